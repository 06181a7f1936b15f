// A hand-ruled chart in its picture: four corners that are dragged or moved by keys, the squares between them, and
// everything kept as it is said.
document.addEventListener("alpine:init", () => {
  Alpine.data("chart", () => ({
    timer: 0,
    asked: 0,

    init() {
      const map = this.$refs.map;
      sizeCorners(map);
      window.addEventListener("resize", () => sizeCorners(map));
      for (const corner of map.querySelectorAll("[data-corner]")) {
        corner.addEventListener("pointerdown", (event) => this.drag(corner, event));
        corner.addEventListener("keydown", (event) => this.nudge(corner, event));
      }
      map.querySelector("#chart-squares").addEventListener("click", (event) => this.choose(event));
    },

    drag(corner, event) {
      event.preventDefault();
      corner.focus({ preventScroll: true });
      const map = this.$refs.map;
      const from = place(this.$root, corner);
      const start = { x: event.clientX, y: event.clientY };
      const scale = perPixel(map);
      const follow = (now) => {
        const moved = [now.clientX - start.x, now.clientY - start.y];
        this.put(corner, [from[0] + scale * moved[0], from[1] + scale * moved[1]]);
      };
      const end = () => {
        window.removeEventListener("pointermove", follow);
        window.removeEventListener("pointercancel", end);
        this.keep(false);
      };
      window.addEventListener("pointermove", follow);
      window.addEventListener("pointerup", end, { once: true });
      window.addEventListener("pointercancel", end, { once: true });
    },

    // An arrow moves a corner by one pixel of the picture, with Shift by twenty.
    nudge(corner, event) {
      const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
      const way = ways[event.key];
      if (!way) return;
      event.preventDefault();
      event.stopPropagation();
      const step = event.shiftKey ? 20 : 1;
      const [x, y] = place(this.$root, corner);
      this.put(corner, [x + step * way[0], y + step * way[1]]);
      this.soon(false);
    },

    put(corner, to) {
      const box = this.$refs.map.viewBox.baseVal;
      const x = Math.min(Math.max(to[0], 0), box.width);
      const y = Math.min(Math.max(to[1], 0), box.height);
      const fields = this.$root.elements;
      fields[`x${corner.dataset.corner}`].value = x.toFixed(1);
      fields[`y${corner.dataset.corner}`].value = y.toFixed(1);
      this.draw();
    },

    draw() {
      for (const corner of this.$refs.map.querySelectorAll("[data-corner]")) {
        const [x, y] = place(this.$root, corner);
        corner.setAttribute("transform", `translate(${x} ${y})`);
      }
      drawSquares(this.$root, this.$refs.map.querySelector("#chart-squares"));
    },

    // A square that is clicked is the one that something is said of.
    choose(event) {
      const square = event.target.closest("[data-row]");
      const fields = this.$root.elements;
      if (!square || !fields["square-row"]) return;
      fields["square-row"].value = square.dataset.row;
      fields["square-column"].value = square.dataset.column;
      fields["square-holds"].focus();
    },

    // Rows, columns and what the sides stand for bring other fields; everything else is only kept.
    later(event) {
      const name = event.target.name ?? "";
      if (name.startsWith("square-")) return;
      const other = ["rows", "columns", "hold", "lines-stand"].includes(name);
      if (event.type === "input" && other && event.target.type !== "text") return;
      this.draw();
      this.soon(other);
    },

    soon(names) {
      clearTimeout(this.timer);
      this.names = this.names || names;
      this.timer = setTimeout(() => this.keep(this.names), 350);
    },

    // One after the other: each sends the version that the one before it left.
    keep(names) {
      clearTimeout(this.timer);
      this.names = false;
      const asked = ++this.asked;
      this.last = (this.last ?? Promise.resolve()).then(() => this.send(names, asked));
      return this.last;
    },

    async send(names, asked) {
      const said = document.getElementById("chart-kept");
      let page;
      try {
        const answer = await fetch(this.$root.action, {
          method: "POST",
          body: new URLSearchParams(new FormData(this.$root)),
        });
        if (!answer.ok && ![409, 422].includes(answer.status)) throw new Error(String(answer.status));
        page = new DOMParser().parseFromString(await answer.text(), "text/html");
        this.$root.elements["read-at"].value = page.querySelector("input[name=read-at]").value;
        if (answer.status === 409) {
          said.textContent = "Another page changed this chart; nothing of this one was kept.";
          renew(page, "chart-said");
          return;
        }
      } catch {
        said.textContent = "The workshop does not answer now; what you did stays on this page.";
        return;
      }
      // Something else was done meanwhile.
      if (asked !== this.asked) return;
      said.textContent = "Kept.";
      for (const part of ["chart-said", "chart-table", "chart-read"]) renew(page, part);
      if (names && page.getElementById("chart-names")) {
        const held = document.activeElement?.name;
        renew(page, "chart-names");
        if (held) this.$root.elements[held]?.focus?.();
      } else {
        showChartNotes(page);
      }
      document.getElementById("chart-squares").innerHTML = page.getElementById("chart-squares").innerHTML;
    },
  }));
});

function renew(page, id) {
  const [old, fresh] = [document.getElementById(id), page.getElementById(id)];
  if (old && fresh) old.replaceWith(document.adoptNode(fresh));
}

// What is wrong stands at its field.
function showChartNotes(page) {
  const fresh = [...page.querySelectorAll("[data-at]")];
  const notes = [...document.querySelectorAll("[data-at]")];
  if (fresh.length !== notes.length) return;
  notes.forEach((note, at) => {
    note.textContent = fresh[at].textContent;
    note.hidden = fresh[at].hidden;
  });
}

// Where a corner lies, in pixels of the picture.
function place(form, corner) {
  const at = corner.dataset.corner;
  return [Number(form.elements[`x${at}`].value), Number(form.elements[`y${at}`].value)];
}

// A corner is as large under a finger whatever the picture's size.
function sizeCorners(map) {
  const unit = perPixel(map);
  for (const [name, radius] of [["corner-reach", 26], ["corner-dark", 16], ["corner-light", 16]]) {
    for (const circle of map.querySelectorAll(`circle.${name}`)) circle.setAttribute("r", radius * unit);
  }
  // Four arms that leave the very corner free.
  const [near, far] = [4 * unit, 16 * unit];
  const arms = `M${-far} 0H${-near}M${near} 0H${far}M0 ${-far}V${-near}M0 ${near}V${far}`;
  for (const path of map.querySelectorAll("[data-arms]")) path.setAttribute("d", arms);
}

// From the unit square to four corners, clockwise from its top left (Heckbert 1989, Fundamentals of Texture Mapping).
function toCorners([a, b, c, d]) {
  const [px, py] = [a[0] - b[0] + c[0] - d[0], a[1] - b[1] + c[1] - d[1]];
  const [ux, uy, vx, vy] = [b[0] - c[0], b[1] - c[1], d[0] - c[0], d[1] - c[1]];
  const whole = ux * vy - vx * uy;
  const g = (px * vy - vx * py) / whole;
  const h = (ux * py - px * uy) / whole;
  return ([u, v]) => {
    const depth = g * u + h * v + 1;
    return [0, 1].map(
      (axis) =>
        ((b[axis] - a[axis] + g * b[axis]) * u + (d[axis] - a[axis] + h * d[axis]) * v + a[axis]) / depth,
    );
  };
}

function drawSquares(form, group) {
  const number = (name) => Number(String(form.elements[name].value).replace(",", "."));
  const [rows, columns, side] = [number("rows"), number("columns"), number("side")];
  const [across, down] = [number("gap-across"), number("gap-down")];
  const squares = [...group.children];
  if (squares.length !== rows * columns || !(side > 0)) return;
  const width = columns * side + (columns - 1) * across;
  const height = rows * side + (rows - 1) * down;
  const corners = [0, 1, 2, 3].map((at) =>
    [form.elements[`x${at}`], form.elements[`y${at}`]].map((field) => Number(field.value)),
  );
  const project = toCorners(corners);
  squares.forEach((square, at) => {
    const left = (at % columns) * (side + across);
    const top = Math.floor(at / columns) * (side + down);
    const points = [[left, top], [left + side, top], [left + side, top + side], [left, top + side]]
      .map(([x, y]) => project([x / width, y / height]).map((axis) => axis.toFixed(1)).join(","))
      .join(" ");
    for (const polygon of square.querySelectorAll("polygon")) polygon.setAttribute("points", points);
  });
}
