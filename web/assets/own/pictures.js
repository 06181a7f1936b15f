// Pictures of sheets: sent with progress in sight, and outlines that can be dragged.
document.addEventListener("alpine:init", () => {
  Alpine.data("drop", () => ({
    over: false,
    busy: false,
    said: "",

    // A picture that was chosen is sent at once, unless its sheet has to be chosen as well.
    chosen() {
      if (!this.$root.querySelector("select")) this.$root.requestSubmit();
    },

    dropped(event) {
      this.over = false;
      if (event.dataTransfer.files.length === 0) return;
      this.$refs.file.files = event.dataTransfer.files;
      this.$root.requestSubmit();
    },

    send(event) {
      event.preventDefault();
      if (this.busy) return;
      this.busy = true;
      const request = new XMLHttpRequest();
      request.open("POST", this.$root.action);
      request.upload.onprogress = (sent) => {
        const part = sent.lengthComputable ? Math.round((100 * sent.loaded) / sent.total) : 0;
        this.said = part < 100 ? `Sending the picture: ${part} %` : "Reading the picture …";
      };
      request.onload = () => {
        this.busy = false;
        // What can be used has a page of its own; what cannot is told on the page that came back.
        if (request.status === 200) location.assign(request.responseURL);
        else showAnswer(request.responseText);
      };
      request.onerror = () => {
        this.busy = false;
        this.said = "The workshop does not answer: the picture was not sent. Send it again.";
      };
      request.send(new FormData(this.$root));
    },
  }));

  Alpine.data("outlines", () => ({
    init() {
      const map = this.$refs.map;
      const chosen = map.querySelector(".is-chosen");
      if (chosen) chosen.addEventListener("pointerdown", (event) => drag(map, chosen, event));
      // The link under a finger that drags must not be followed.
      chosen?.closest("a").addEventListener("click", (event) => event.preventDefault());
    },
  }));
});

function showAnswer(text) {
  const page = new DOMParser().parseFromString(text, "text/html");
  const main = page.querySelector("main");
  if (main) document.querySelector("main").replaceWith(main);
  document.querySelector("main [role=alert]")?.scrollIntoView({ block: "center" });
}

// Millimetres of the sheet to a pixel of the screen.
function perPixel(map) {
  return map.viewBox.baseVal.width / map.getBoundingClientRect().width;
}

function drag(map, outline, event) {
  event.preventDefault();
  const form = document.querySelector("form[data-move]");
  if (!form) return;
  const from = { x: event.clientX, y: event.clientY };
  const scale = perPixel(map);
  let moved = [0, 0];
  const follow = (now) => {
    moved = [scale * (now.clientX - from.x), scale * (now.clientY - from.y)];
    outline.setAttribute("transform", `translate(${moved[0]} ${moved[1]})`);
  };
  const end = () => {
    window.removeEventListener("pointermove", follow);
    if (Math.hypot(moved[0], moved[1]) < 0.3) return;
    form.elements.right.value = (Number(form.elements.right.value) + moved[0]).toFixed(1);
    form.elements.down.value = (Number(form.elements.down.value) + moved[1]).toFixed(1);
    form.requestSubmit();
  };
  window.addEventListener("pointermove", follow);
  window.addEventListener("pointerup", end, { once: true });
}
