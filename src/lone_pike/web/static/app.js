// Keys and small comforts. Every key presses something that is on the page: an element with data-key.
"use strict";

const WRITTEN = "input[form=measures]:not([type=checkbox], [type=hidden]), textarea[form=measures]";
const typing = (element) => element?.matches?.("input:not([type=checkbox]):not([type=file]), select, textarea");

// Where one is: the stage of a job, or another page's main part.
const screenNow = () => {
  const main = document.querySelector("main");
  return main?.dataset.stage ?? main?.id ?? "";
};

const say = (text) => {
  const status = document.getElementById("status");
  if (status && text) status.textContent = text;
};

// A press within half a second of a change of screen was meant for the screen before: it is not taken.
const SETTLE_MS = 500;
let settledAt = 0;
document.addEventListener("click", (event) => {
  if (performance.now() >= settledAt || !event.target.closest?.("a, button, input[type=image], summary")) return;
  event.preventDefault();
  event.stopImmediatePropagation();
}, true);

// A caliper types faster than a hand: what it types with no field in hand moves nothing, and is told.
const BURST_MS = 80, BURST_ENDS_MS = 300;
const MEASURED = /^[0-9.,-]$/;
let burst = "", burstAt = 0, waiting = 0;

function pressKey(key) {
  const pressed = `[data-key="${CSS.escape(key)}"]`;
  const target = document.querySelector(`input${pressed}`) ?? document.querySelector(pressed);
  if (target?.matches("input:not([type=hidden])")) target.focus();
  else target?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true, view: window }));
  return Boolean(target);
}

function takenByCaliper(event) {
  const now = performance.now(), inBurst = burst.length > 1 && now - burstAt < BURST_ENDS_MS;
  if (event.key === "Enter" && inBurst) {
    say(`Read ${burst} with no field in hand. Press the field it belongs to, and measure again.`);
    document.body.classList.add("no-field");
    burst = "";
    event.preventDefault();
    return true;
  }
  if (!MEASURED.test(event.key)) return false;
  event.preventDefault();
  const follows = burst && now - burstAt < (burst.length > 1 ? BURST_ENDS_MS : BURST_MS);
  burst = follows ? burst + event.key : event.key;
  burstAt = now;
  clearTimeout(waiting);
  if (!follows) waiting = setTimeout(() => pressKey(event.key), BURST_MS);
  return true;
}

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const field = document.activeElement;
  if (typing(field)) {
    if (event.key === "Escape") field.blur();
    if (event.key === "Enter" && field.form?.id === "measures") {
      event.preventDefault();
      nextField(field)?.focus();
    }
    return;
  }
  // A key that is held down acts once.
  if (event.repeat && event.key !== "Tab") return event.preventDefault();
  if (document.querySelector("dialog[open]")) return;
  if (takenByCaliper(event)) return;
  document.body.classList.remove("no-field");
  const ownPress = event.key === "Enter" ? "a, button, summary, input" : "button, summary, input";
  if ((event.key === "Enter" || event.key === " ") && field?.matches?.(ownPress)) return;
  const key = (event.shiftKey && event.key.startsWith("Arrow") ? "Shift+" : "") + event.key;
  if (pressKey(key)) event.preventDefault();
});

// The next field that is still empty; where none is, the next one; after the last the press to the next step.
function nextField(field) {
  const fields = [...document.querySelectorAll("[form=measures]")].filter((each) => each.checkVisibility());
  const after = fields.slice(fields.indexOf(field) + 1), isEmpty = (each) => each.matches(WRITTEN) && !each.value;
  const next = after.find(isEmpty) ?? (isEmpty(field) ? document.getElementById("next") : after[0]);
  if (next?.select) queueMicrotask(() => next.select());
  return next;
}

const LISTENS_MS = 400;
// A new bike has its first field in hand; who came to find, the search.
window.addEventListener("load", () => {
  const first = document.querySelector("main[data-first]")?.dataset.first;
  const search = location.hash === "#find" ? "find" : first;
  const field = search && document.getElementById(search);
  field?.focus();
  // A fast hand types before the page listens: what stands there then is looked for all the same.
  if (field?.id === "find") setTimeout(() => {
    if (field.value !== field.defaultValue) field.dispatchEvent(new Event("input", { bubbles: true }));
  }, LISTENS_MS);
});

// How a field of the side is taken stands in the same line as for those under the drawing.
for (const moves of ["focusin", "focusout"]) {
  document.addEventListener(moves, (event) => {
    const line = document.getElementById("how-line"), field = event.target;
    if (!line || !field.matches?.("#panel [form=measures]")) return;
    line.dataset.rests ??= line.textContent;
    const how = document.getElementById(`${field.id}-how`)?.textContent;
    line.textContent = (moves === "focusin" && how) || line.dataset.rests;
    line.classList.toggle("font-bold", moves === "focusin" && Boolean(how));
  });
}

document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-opens]");
  if (opener) document.getElementById(opener.dataset.opens).showModal();
  if (event.target.closest("[data-prints]")) window.print();
});

// A bike file dropped anywhere on the Stand goes through the same form as a chosen one.
const drop = document.querySelector("[data-drop]");
if (drop) {
  document.addEventListener("dragover", (event) => {
    event.preventDefault();
    drop.classList.add("over");
  });
  document.addEventListener("dragleave", () => drop.classList.remove("over"));
  document.addEventListener("drop", (event) => {
    event.preventDefault();
    drop.classList.remove("over");
    if (!event.dataTransfer.files.length) return;
    drop.querySelector("input[type=file]").files = event.dataTransfer.files;
    drop.requestSubmit();
  });
}

// What was computed while typing comes too late once another page is shown.
document.addEventListener("htmx:before:swap", (event) => {
  const asked = event.detail.ctx?.request?.action ?? "";
  const late = new URL(asked, location.href).pathname.endsWith("/typed") && !location.pathname.endsWith("/measure");
  if (late) event.preventDefault();
});

// A field that is no longer in hand shows what the workshop read, "431,5 mm" as 431.5.
document.addEventListener("htmx:after:swap", (event) => {
  if (event.target.id !== "job" && event.detail.ctx?.target?.id !== "job") return;
  if (/\/(typed|sure)$/.test(new URL(event.detail.ctx?.request?.action ?? "", location.href).pathname)) return;
  for (const field of document.querySelectorAll("input[form=measures]:not([type=checkbox])")) {
    if (field !== document.activeElement && field.value !== field.defaultValue) field.value = field.defaultValue;
  }
});

// After a change of screen the focus goes to its heading, the title follows, and the next press waits. What changed in
// place is announced: the count, and what is said at once.
let screen = screenNow();
const told = () => ["#count", "#told"].map((each) => document.querySelector(each)?.innerText.replace(/\s+/g, " ").trim() ?? "");
let lastTold = told();
document.addEventListener("htmx:after:swap", () => {
  const main = document.querySelector("main");
  if (main?.dataset.title) document.title = main.dataset.title;
  if (screen !== screenNow()) {
    screen = screenNow();
    settledAt = performance.now() + SETTLE_MS;
    const heading = main.querySelector("#panel h2") ?? main.querySelector("h1");
    heading?.setAttribute("tabindex", "-1");
    heading?.focus({ preventScroll: true });
  }
  // Which bike it is has just been told: its first field comes next.
  if (document.activeElement?.closest?.("#kinds")) document.getElementById(main.dataset.first)?.focus();
  const now = told();
  say(now.filter((text, place) => text && text !== lastTold[place]).join(". "));
  lastTold = now;
});

// A table's file is read into its field, as if it had been pasted there.
document.addEventListener("change", async (event) => {
  const field = document.getElementById(event.target.dataset?.readsInto);
  if (!field || !event.target.files?.length) return;
  event.stopPropagation();
  field.value = await event.target.files[0].text();
  field.dispatchEvent(new Event("change", { bubbles: true }));
}, true);

// Where the photo was pressed: a swap does not send it by itself. Enter presses no place.
document.addEventListener("click", (event) => {
  if (!event.target.matches?.("input[type=image]")) return;
  if (event.detail === 0) event.preventDefault();
  for (const [axis, at] of [["x", event.offsetX], ["y", event.offsetY]]) {
    event.target.form.querySelector(`[name="at.${axis}"]`).value = Math.max(0, Math.round(at));
  }
}, true);

// What is being typed is kept on this machine until the workshop has it: it survives a reload, a closed tab, and a
// workshop that is away.
const DRAFTED = "input[form=measures]:not([type=checkbox]):not([type=hidden]), #note";
const draftKey = () => `draft ${location.pathname.split("/").slice(0, 3).join("/")}`;

function draft() {
  try {
    return JSON.parse(localStorage.getItem(draftKey())) ?? {};
  } catch {
    return {};
  }
}

function keepDraft(texts) {
  try {
    if (Object.keys(texts).length) localStorage.setItem(draftKey(), JSON.stringify(texts));
    else localStorage.removeItem(draftKey());
  } catch { /* without a store there is no draft */ }
}

document.addEventListener("input", (event) => {
  const field = event.target;
  if (!field.matches?.(DRAFTED)) return;
  const texts = draft();
  if (field.value === field.defaultValue) delete texts[field.name];
  else texts[field.name] = field.value;
  keepDraft(texts);
});

function restoreDraft() {
  for (const [name, text] of Object.entries(draft())) {
    const field = [...document.querySelectorAll(DRAFTED)].find((each) => each.name === name);
    if (!field || field === document.activeElement || field.value === text) continue;
    field.value = text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    say("What you were typing is here again. It is not kept yet.");
  }
}
window.addEventListener("load", () => setTimeout(restoreDraft));

// Once the workshop has answered a form, its texts are the workshop's.
document.addEventListener("htmx:after:swap", (event) => {
  const asked = new URL(event.detail.ctx?.request?.action ?? "", location.href).pathname;
  if (/\/(measure|undo|book)$/.test(asked) && event.detail.ctx?.request?.method === "POST") keepDraft({});
});
document.addEventListener("submit", (event) => {
  if (/\/(book|undo)$/.test(event.target.action)) keepDraft({});
}, true);

const RETRY_MS = 3000;
function sendAgain() {
  fetch("/healthz").then((answer) => {
    if (!answer.ok) throw new Error();
    document.body.classList.remove("cut-off");
    const waiting = [...document.querySelectorAll("input[form=measures]")].filter((each) => each.value !== each.defaultValue);
    waiting[0]?.dispatchEvent(new Event("change", { bubbles: true }));
    say(waiting.length ? "The workshop answers again. What you typed is sent again." : "The workshop answers again.");
  }).catch(() => setTimeout(sendAgain, RETRY_MS));
}

document.addEventListener("htmx:error", () => {
  if (document.body.classList.contains("cut-off")) return;
  document.body.classList.add("cut-off");
  say("No answer from the workshop. What you typed is still here.");
  setTimeout(sendAgain, RETRY_MS);
});

// An idler is dragged on the drawing: its handle follows at once, the chain as fast as the workshop answers.
const MOVED_PX = 4;
let dragged = null;

function inDrawing(picture, event) {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());
  const grid = Number(picture.dataset.grid), snap = (value) => Math.round(value / grid) * grid;
  return { x: snap(at.x), y: snap(-at.y) };
}

document.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest?.("[data-idler]");
  if (!handle || event.button !== 0) return;
  dragged = { handle, from: [event.clientX, event.clientY], moves: false };
  event.preventDefault();
});
document.addEventListener("pointermove", (event) => {
  if (!dragged) return;
  const [x, y] = dragged.from;
  if (!dragged.moves && Math.hypot(event.clientX - x, event.clientY - y) < MOVED_PX) return;
  dragged.moves = true;
  const at = inDrawing(dragged.handle.ownerSVGElement, event);
  if (at.x === dragged.at?.x && at.y === dragged.at?.y) return;
  dragged.at = at;
  dragged.handle.setAttribute("transform", `translate(${at.x} ${-at.y})`);
  const form = document.getElementById("move");
  form.elements.idler.value = dragged.handle.dataset.idler;
  [form.elements.x.value, form.elements.y.value] = [at.x, at.y];
  form.dispatchEvent(new Event("dragging"));
});
for (const ends of ["pointerup", "pointercancel"]) {
  document.addEventListener(ends, () => {
    if (dragged?.moves && dragged.at) document.getElementById("move").requestSubmit();
    const moved = dragged?.moves;
    dragged = null;
    if (moved) document.addEventListener("click", (event) => {
      event.preventDefault();
      event.stopImmediatePropagation();
    }, { capture: true, once: true });
  });
}
document.addEventListener("dragstart", (event) => {
  if (event.target.closest?.("[data-idler]")) event.preventDefault();
});

// A long bike is looked at closely: wheel or pinch where the pointer is, z and Shift+z in the middle; the drawing is
// pulled about. What is looked at stays through a swap, until another page is shown.
const LEAST_ZOOM = 0.04;
let zoomed = null;
const pointers = new Map();

const boxOf = (picture) => picture.getAttribute("viewBox").split(" ").map(Number);
function showBox(picture, box) {
  picture.dataset.whole ??= picture.getAttribute("viewBox");
  const whole = picture.dataset.whole.split(" ").map(Number);
  if (box[2] >= whole[2]) box = whole;
  zoomed = box === whole ? null : { whole: picture.dataset.whole, box };
  for (const each of document.querySelectorAll("[data-zooms], #handles")) each.setAttribute("viewBox", box.join(" "));
}
function zoomBy(picture, share, x, y) {
  const [left, top, width, height] = boxOf(picture), whole = (picture.dataset.whole ?? picture.getAttribute("viewBox")).split(" ");
  const size = Math.max(share, (whole[2] * LEAST_ZOOM) / width);
  showBox(picture, [x - (x - left) * size, y - (y - top) * size, width * size, height * size]);
}
const zoomable = (target) => target.closest?.("#side")?.querySelector("[data-zooms]");
const pointIn = (picture, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());

document.addEventListener("wheel", (event) => {
  const picture = zoomable(event.target);
  if (!picture) return;
  event.preventDefault();
  const at = pointIn(picture, event);
  zoomBy(picture, event.deltaY > 0 ? 1.2 : 1 / 1.2, at.x, at.y);
}, { passive: false });
document.addEventListener("keydown", (event) => {
  const picture = document.querySelector("#side [data-zooms]");
  if (!picture || typing(document.activeElement) || event.ctrlKey || event.metaKey || event.altKey) return;
  const [left, top, width, height] = boxOf(picture), [x, y] = [left + width / 2, top + height / 2];
  if (event.key === "z" || event.key === "Z") zoomBy(picture, event.key === "z" ? 1 / 1.5 : 1.5, x, y);
  const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  if (!zoomed || !ways[event.key] || document.querySelector('[data-key^="Arrow"]')) return;
  const [right, down] = ways[event.key];
  showBox(picture, [left + right * width / 6, top + down * height / 6, width, height]);
  event.preventDefault();
});
document.addEventListener("pointerdown", (event) => {
  const picture = zoomable(event.target);
  if (!picture || dragged || event.target.closest("a, button, summary, input")) return;
  pointers.set(event.pointerId, event);
});
document.addEventListener("pointermove", (event) => {
  const before = pointers.get(event.pointerId), picture = document.querySelector("#side [data-zooms]");
  if (!before || !picture) return;
  const spread = () => {
    const [one, other] = [...pointers.values()];
    return Math.hypot(one.clientX - other.clientX, one.clientY - other.clientY);
  };
  const was = pointers.size === 2 ? spread() : 0, from = pointIn(picture, before), to = pointIn(picture, event);
  pointers.set(event.pointerId, event);
  if (pointers.size === 2) zoomBy(picture, was / Math.max(spread(), 1), to.x, to.y);
  else if (zoomed) {
    const [left, top, width, height] = boxOf(picture);
    showBox(picture, [left + from.x - to.x, top + from.y - to.y, width, height]);
  }
});
for (const ends of ["pointerup", "pointercancel"]) document.addEventListener(ends, (event) => pointers.delete(event.pointerId));
document.addEventListener("htmx:after:swap", () => {
  const picture = document.querySelector("#side [data-zooms]");
  if (!zoomed || !picture) return;
  if (picture.getAttribute("viewBox") === zoomed.whole) showBox(picture, zoomed.box);
  else if (picture.getAttribute("viewBox") !== zoomed.box.join(" ")) zoomed = null;
});

// A rivet is tried by pressing it on the strip: what it would leave is told before the tool is on the chain.
document.addEventListener("click", (event) => {
  const strip = event.target.closest?.("#strip-bed .strip"), field = document.querySelector('[name="rivet"]');
  if (!strip || !field) return;
  const away = (text) => {
    const box = text.getBoundingClientRect();
    return Math.hypot(box.x + box.width / 2 - event.clientX, (box.y + box.height * 1.6 - event.clientY) / 1.2);
  };
  const nearest = [...strip.querySelectorAll("[data-joint]")].reduce((one, other) => (away(other) < away(one) ? other : one));
  field.value = nearest.dataset.joint;
  field.form.requestSubmit();
});
