// One machine for fingers and mouse on the drawings. A handler says whether a press is its own, and is then told of
// every move of its pointers until the last of them is lifted.
const MOVED_PX = 4;
const handlers = [];
let handler = null, moved = false;
const pointers = new Map();

// starts(event) returns whether the press is this handler's; moves(event, before, pointers) and ends(moved) follow.
export const handlePointers = (added) => handlers.push(added);

// A point of the screen as a drawing has it.
export const pointIn = (picture, event) =>
  new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());

document.addEventListener("pointerdown", (event) => {
  if (!pointers.size) {
    handler = handlers.find((each) => each.starts(event)) ?? null;
    moved = false;
  }
  if (handler) pointers.set(event.pointerId, { first: event, last: event });
});

document.addEventListener("pointermove", (event) => {
  const pointer = pointers.get(event.pointerId);
  if (!pointer) return;
  const { first, last } = pointer;
  moved ||= Math.hypot(event.clientX - first.clientX, event.clientY - first.clientY) >= MOVED_PX;
  if (!moved) return;
  pointers.set(event.pointerId, { first, last: event });
  handler.moves(event, last, pointers);
});

for (const ends of ["pointerup", "pointercancel"]) {
  document.addEventListener(ends, (event) => {
    if (!pointers.delete(event.pointerId) || pointers.size) return;
    handler.ends?.(moved);
    handler = null;
    if (moved) document.addEventListener("click", swallow, { capture: true, once: true });
    setTimeout(() => document.removeEventListener("click", swallow, { capture: true }));
  });
}

// The click that ends a drag presses nothing.
function swallow(event) {
  event.preventDefault();
  event.stopImmediatePropagation();
}
