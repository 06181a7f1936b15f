// While the verdicts are at work the page looks again each second, until they are there.
document.addEventListener("alpine:init", () => {
  Alpine.data("decideProgress", () => ({
    init() {
      setTimeout(() => window.location.reload(), 1000);
    },
  }));
});
