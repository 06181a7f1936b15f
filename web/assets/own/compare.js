// A step that is pointed at or focused lights up wherever the page shows it: in the rack, on both plots, in the table.
function lightStep(event) {
  const at = event.target.closest ? event.target.closest("[data-step]") : null;
  const step = at ? at.getAttribute("data-step") : null;
  document.querySelectorAll("[data-step]").forEach((part) => {
    part.classList.toggle("lit", step !== null && part.getAttribute("data-step") === step);
  });
}

document.addEventListener("pointerover", lightStep);
document.addEventListener("focusin", lightStep);
