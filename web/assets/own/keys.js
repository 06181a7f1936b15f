// Single keys for what has a button or link anyway: each carries data-key and data-key-label.
document.addEventListener("alpine:init", () => {
  Alpine.data("keys", () => ({
    rows: [],

    press(event) {
      if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
      if (event.key === "?") {
        event.preventDefault();
        this.toggle();
        return;
      }
      const target = document.querySelector(`[data-key="${CSS.escape(keyName(event.key))}"]`);
      // Enter on a focused button or link already does what that says.
      if (!target || (event.key === "Enter" && event.target !== document.body)) return;
      event.preventDefault();
      if (target.matches("input")) target.focus();
      else target.click();
      focusFirstField(target);
    },

    toggle() {
      const sheet = this.$refs.sheet;
      if (sheet.open) {
        sheet.close();
        return;
      }
      this.rows = [...document.querySelectorAll("[data-key]")].map((element) => ({
        key: element.dataset.key.length === 1 ? element.dataset.key.toUpperCase() : element.dataset.key,
        label: element.dataset.keyLabel,
      }));
      sheet.showModal();
    },
  }));
});

function keyName(key) {
  return key.length === 1 ? key.toLowerCase() : key;
}

function typing(element) {
  return element instanceof HTMLElement && element.closest("input, select, textarea, [contenteditable]") !== null;
}

// Opening a folded form leads straight to its first field.
function focusFirstField(target) {
  if (target.tagName !== "SUMMARY") return;
  const field = target.parentElement.querySelector("input:not([type=hidden])");
  if (field && target.parentElement.open) field.focus();
}
