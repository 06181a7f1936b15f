// A form that is answered while it is filled in: after each change the server works out what
// follows, and the panel beside the form shows it.
document.addEventListener("alpine:init", () => {
  Alpine.data("alive", () => ({
    timer: 0,
    asked: 0,
    changed: 0,

    later() {
      grow(this.$root);
      hideOffers(this.$root);
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.refresh(), 120);
    },

    // Puts a tube that is offered into the field it is offered for.
    take(event) {
      const field = document.getElementById(event.target.dataset.for);
      field.value = event.target.dataset.tube;
      this.later();
    },

    // Adds a tube to the shelf from inside this form, and takes it into the first empty field for one.
    async addTube() {
      const field = (name) => document.getElementById(`quick-${name}`);
      const said = document.getElementById("quick-said");
      const fields = new URLSearchParams();
      for (const name of ["name", "maker", "codes"]) fields.set(name, field(name).value);
      let added;
      try {
        const answer = await fetch("/shelf/quick", { method: "POST", body: fields });
        if (!answer.ok) throw new Error(String(answer.status));
        added = await answer.json();
      } catch {
        said.textContent = "The workshop does not answer now; what you typed stays.";
        return;
      }
      if (added.wrong) {
        said.textContent = added.wrong;
        return;
      }
      const option = document.createElement("option");
      option.value = added.name;
      document.getElementById("shelf-tubes").append(option);
      const empty = [...this.$root.querySelectorAll('input[list="shelf-tubes"]')];
      const free = empty.find((input) => !input.value.trim());
      if (free) free.value = added.name;
      said.textContent = `${added.name} is on the shelf now.`;
      for (const name of ["name", "maker", "codes"]) field(name).value = "";
      this.later();
    },

    // Another question or pace: its usual choices come, and what was changed by hand stays.
    async adjust() {
      const place = document.getElementById("adjust");
      const changed = ++this.changed;
      let text;
      try {
        const answer = await fetch("/trials/adjust", {
          method: "POST",
          body: new URLSearchParams(new FormData(this.$root)),
        });
        if (!answer.ok) throw new Error(String(answer.status));
        text = await answer.text();
      } catch {
        // The cost says that nobody answers.
        this.later();
        return;
      }
      if (changed !== this.changed) return;
      const open = place.querySelector("details").open;
      place.innerHTML = text;
      const details = place.querySelector("details");
      details.open ||= open;
      for (const name of ["question", "pace"]) {
        const wanted = `input[name="${name}"][value="${details.dataset[name]}"]`;
        this.$root.querySelector(wanted).checked = true;
      }
      this.later();
    },

    async refresh() {
      const asked = ++this.asked;
      const panel = document.getElementById("answer");
      let text;
      try {
        const answer = await fetch(this.$root.dataset.ask, {
          method: "POST",
          body: new URLSearchParams(new FormData(this.$root)),
        });
        if (!answer.ok) throw new Error(String(answer.status));
        text = await answer.text();
      } catch {
        panel.querySelector("#verdict").textContent =
          "The workshop does not answer now; what you typed stays, and can still be sent.";
        return;
      }
      // A later question has been asked meanwhile.
      if (asked !== this.asked) return;
      panel.innerHTML = text;
      showNotes(this.$root, panel);
    },
  }));
});

// Each list of tubes ends in an empty line: one that is begun gets another below it.
function grow(form) {
  for (const list of form.querySelectorAll("[data-grow]")) {
    const last = list.lastElementChild;
    if (![...last.querySelectorAll("input[list]")].some((input) => input.value.trim())) continue;
    const next = last.cloneNode(true);
    for (const input of next.querySelectorAll("input[list]")) input.value = "";
    const note = next.querySelector("[data-note]");
    if (note) {
      note.dataset.note = `${list.dataset.noteName ?? "ladder"}-${list.children.length}`;
      note.hidden = true;
    }
    list.append(next);
  }
}

// A filled field needs no offers.
function hideOffers(form) {
  for (const offer of form.querySelectorAll("[data-for]")) {
    offer.parentElement.hidden = document.getElementById(offer.dataset.for).value.trim() !== "";
  }
}

// What is wrong stands at its field.
function showNotes(form, panel) {
  const wrong = new Map(
    [...panel.querySelectorAll("[data-error-for]")].map((it) => [it.dataset.errorFor, it.textContent]),
  );
  for (const note of form.querySelectorAll("[data-note]")) {
    const message = wrong.get(note.dataset.note) ?? "";
    note.textContent = message;
    note.hidden = message === "";
  }
}
