// A drawing is looked at closely by two fingers, a long bike by wheel too; z and Shift+z zoom in the middle; a drawing
// that is zoomed is pulled about. What is looked at stays through a swap, until another page is shown.
import { isTyping, withModifier } from "./page.js";
import { handlePointers, pointIn } from "./pointers.js";

const LEAST_ZOOM = 0.04, WHEEL = 1.2, KEY = 1.5, KEY_STEP = 1 / 6;
const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
let zoomed = null;

const shown = () => document.querySelector("#side [data-zooms]");
const boxOf = (picture) => picture.getAttribute("viewBox").split(" ").map(Number);

function showBox(picture, box) {
  picture.dataset.whole ??= picture.getAttribute("viewBox");
  const whole = picture.dataset.whole.split(" ").map(Number);
  if (box[2] >= whole[2]) box = whole;
  zoomed = box === whole ? null : { whole: picture.dataset.whole, box };
  picture.toggleAttribute("data-zoomed", Boolean(zoomed));
  for (const each of document.querySelectorAll("[data-zooms], [data-follows-zoom]")) each.setAttribute("viewBox", box.join(" "));
}

function zoomBy(picture, share, x, y) {
  const [left, top, width, height] = boxOf(picture);
  const whole = (picture.dataset.whole ?? picture.getAttribute("viewBox")).split(" ");
  const size = Math.max(share, (whole[2] * LEAST_ZOOM) / width);
  showBox(picture, [x - (x - left) * size, y - (y - top) * size, width * size, height * size]);
}

document.addEventListener("wheel", (event) => {
  const picture = event.target.closest?.("#side")?.querySelector("[data-zooms=closely]");
  if (!picture) return;
  event.preventDefault();
  const at = pointIn(picture, event);
  zoomBy(picture, event.deltaY > 0 ? WHEEL : 1 / WHEEL, at.x, at.y);
}, { passive: false });

document.addEventListener("keydown", (event) => {
  const picture = shown();
  if (!picture || isTyping(document.activeElement) || withModifier(event)) return;
  const [left, top, width, height] = boxOf(picture), [x, y] = [left + width / 2, top + height / 2];
  if (event.key === "z" || event.key === "Z") zoomBy(picture, event.key === "z" ? 1 / KEY : KEY, x, y);
  if (!zoomed || !WAYS[event.key] || document.querySelector('[data-key^="Arrow"]')) return;
  const [right, down] = WAYS[event.key];
  showBox(picture, [left + right * width * KEY_STEP, top + down * height * KEY_STEP, width, height]);
  event.preventDefault();
});

handlePointers({
  starts: (event) => Boolean(event.target.closest?.("#side") && shown() && !event.target.closest("a, button, summary, input")),
  moves: (event, last, pointers) => {
    const picture = shown(), from = pointIn(picture, last), to = pointIn(picture, event);
    if (pointers.size === 2) {
      const other = [...pointers.values()].find((each) => each.last.pointerId !== event.pointerId).last;
      const apart = (one) => Math.hypot(one.clientX - other.clientX, one.clientY - other.clientY);
      zoomBy(picture, apart(last) / Math.max(apart(event), 1), to.x, to.y);
    } else if (zoomed) {
      const [left, top, width, height] = boxOf(picture);
      showBox(picture, [left + from.x - to.x, top + from.y - to.y, width, height]);
    }
  },
});

document.addEventListener("htmx:after:swap", () => {
  const picture = shown();
  if (!zoomed || !picture) return;
  if (picture.getAttribute("viewBox") === zoomed.whole) showBox(picture, zoomed.box);
  else if (picture.getAttribute("viewBox") !== zoomed.box.join(" ")) zoomed = null;
});
