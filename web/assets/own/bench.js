// The bench beside wet paint: what is sent is shown as recorded only once the workshop says so, and
// every page of a run follows what is recorded at the others.
document.addEventListener("alpine:init", () => {
  Alpine.data("bench", () => ({
    busy: false,
    // Counts what was sent: an answer to an older question is not shown any more.
    turn: 0,
    away: false,
    news: null,
    timer: 0,

    init() {
      if (!document.hidden) this.listen();
      // A browser has few connections to one workshop: a page that nobody sees takes none.
      document.addEventListener("visibilitychange", () => {
        if (document.hidden) this.news?.close();
        else {
          this.listen();
          this.refresh();
        }
      });
      this.timer = setInterval(() => this.look(), 5000);
      window.addEventListener("pagehide", () => this.news?.close());
      // A page that the browser kept is older than the run.
      window.addEventListener("pageshow", (event) => event.persisted && location.reload());
      window.addEventListener("popstate", () => location.reload());
    },

    // Hears of what is recorded elsewhere.
    listen() {
      this.news?.close();
      this.news = new EventSource(this.$root.dataset.events);
      this.news.addEventListener("change", () => this.refresh());
      this.news.onopen = () => {
        if (this.away) this.refresh();
        this.away = false;
      };
      this.news.onerror = () => {
        this.away = true;
        trouble(this.$root, "The workshop does not answer: nothing can be recorded now. What was recorded is safe.");
      };
    },

    destroy() {
      this.news?.close();
      clearInterval(this.timer);
    },

    // One thing is sent at a time.
    hold(busy) {
      this.busy = busy;
      this.$root.setAttribute("aria-busy", String(busy));
    },

    // Sends a form, and shows the page that follows. What could not be sent stays as it was typed.
    async send(event) {
      const form = event.target;
      if ("plain" in form.dataset) return;
      event.preventDefault();
      if (this.busy) return;
      this.hold(true);
      this.turn++;
      try {
        const answer = await fetch(form.action, {
          method: "POST",
          body: new URLSearchParams(new FormData(form, event.submitter)),
        });
        show(this.$root, await answer.text(), answer.url, answer.ok);
      } catch {
        trouble(this.$root, "Not recorded: the workshop does not answer. What you typed stays here; send it again.");
      } finally {
        this.hold(false);
      }
    },

    // What was recorded elsewhere is shown, but never under a typing hand.
    async refresh() {
      if (this.busy) return;
      const turn = ++this.turn;
      try {
        const answer = await fetch(location.href);
        const text = await answer.text();
        if (turn !== this.turn) return;
        const said = this.$root.querySelector("#trouble").textContent;
        show(this.$root, text, answer.url, answer.ok, isTyping(this.$root));
        // Why a reading waits stays for as long as it does.
        if (this.$root.querySelector(".bench-waiting")) trouble(this.$root, said);
      } catch {
        this.away = true;
      }
    },

    // Takes the next weight from the scale.
    async weigh() {
      const fields = [...this.$root.querySelectorAll("[data-planned]")];
      const field = fields.find((it) => it === document.activeElement) ?? fields.find((it) => it.value === "");
      if (!field || this.busy) return;
      this.hold(true);
      try {
        const answer = await fetch(this.$root.dataset.weigh, {
          method: "POST",
          body: new URLSearchParams({ about: field.dataset.planned }),
        });
        const weighed = await answer.json();
        if (weighed.grams === null) trouble(this.$root, weighed.trouble);
        else {
          field.value = String(weighed.grams);
          if (weighed.simulated) this.$root.querySelector("[name=weighed]").value = "simulated";
          trouble(this.$root, "");
        }
      } catch {
        trouble(this.$root, "The workshop does not answer; type the weight.");
      } finally {
        this.hold(false);
      }
    },

    // Paint that has dried meanwhile is asked for.
    look() {
      const due = this.$root.querySelector("[data-due]");
      if (due && Number(due.dataset.due) * 1000 <= Date.now()) this.refresh();
    },
  }));
});

function isTyping(root) {
  const open = [...root.querySelectorAll("input.form-control")].some((it) => it.value !== it.defaultValue);
  return open || root.querySelector("details[open]") !== null;
}

function trouble(root, text) {
  const line = root.querySelector("#trouble");
  line.textContent = text;
  line.hidden = text === "";
}

// Puts the bench of another answer in place of this one; `around` leaves what is being typed alone.
function show(root, text, url, ok, around = false) {
  const page = new DOMParser().parseFromString(text, "text/html");
  const bench = page.getElementById("bench");
  if (!bench) {
    if (ok) location.assign(url);
    else trouble(root, page.querySelector(".lead-text")?.textContent ?? "Not recorded: the workshop cannot answer.");
    return;
  }
  if (around) {
    for (const part of [".bench-bar", ".bench-stage"]) {
      root.querySelector(part).replaceWith(bench.querySelector(part));
    }
    return;
  }
  root.replaceChildren(...bench.childNodes);
  document.title = page.title;
  if (ok && url !== location.href) history.pushState(null, "", url);
}
