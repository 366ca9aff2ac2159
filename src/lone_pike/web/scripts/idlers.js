// An idler is dragged on the drawing: its handle follows at once, the chain as fast as the workshop answers.
import { withModifier } from "./page.js";
import { handlePointers, pointIn } from "./pointers.js";

let handle = null, at = null;
const form = () => document.getElementById("move");

function inDrawing(picture, event) {
  const point = pointIn(picture, event), grid = Number(picture.dataset.grid);
  return { x: Math.round(point.x / grid) * grid, y: Math.round(-point.y / grid) * grid };
}

handlePointers({
  starts: (event) => {
    handle = event.button === 0 ? event.target.closest?.("[data-idler]") : null;
    at = null;
    if (handle) event.preventDefault();
    return Boolean(handle);
  },
  moves: (event) => {
    const now = inDrawing(handle.ownerSVGElement, event);
    if (now.x === at?.x && now.y === at?.y) return;
    at = now;
    handle.setAttribute("transform", `translate(${at.x} ${-at.y})`);
    const fields = form().elements;
    [fields.idler.value, fields.x.value, fields.y.value] = [handle.dataset.idler, at.x, at.y];
    form().dispatchEvent(new Event("dragging"));
  },
  ends: (moved) => {
    if (moved && at) form().requestSubmit();
  },
});

// The arrows move the idler that has the focus, in hand or not: by 1 mm, with Shift by 10.
document.addEventListener("keydown", (event) => {
  const focused = document.activeElement?.closest?.("[data-idler]"), way = /^Arrow(Up|Down|Left|Right)$/.exec(event.key);
  if (!focused || !way || withModifier(event)) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  if (event.repeat) return;
  const fields = form().elements;
  [fields.do.value, fields.idler.value, fields.to.value, fields.by.value] = ["nudge", focused.dataset.idler, way[1].toLowerCase(), event.shiftKey ? 10 : 1];
  form().requestSubmit();
}, true);

document.addEventListener("dragstart", (event) => {
  if (event.target.closest?.("[data-idler]")) event.preventDefault();
});
