// Keys and small comforts. Every key presses something that is on the page: an element with data-key.
"use strict";

const typing = (element) => element?.matches?.("input:not([type=checkbox]):not([type=file]), select, textarea");

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
  if (document.querySelector("dialog[open]")) return;
  const pressable = event.key === "Enter" || event.key === " ";
  if (pressable && field?.matches?.("a, button, summary, input")) return;
  const key = (event.shiftKey && event.key.startsWith("Arrow") ? "Shift+" : "") + event.key;
  const target = document.querySelector(`[data-key="${CSS.escape(key)}"]`);
  if (!target) return;
  event.preventDefault();
  target.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true, view: window }));
});

function nextField(field) {
  const fields = [...document.querySelectorAll("[form=measures]")].filter((each) => each.offsetParent !== null);
  const next = fields[fields.indexOf(field) + 1];
  if (next?.select) queueMicrotask(() => next.select());
  return next;
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
  for (const field of document.querySelectorAll("input[form=measures]:not([type=checkbox])")) {
    if (field !== document.activeElement && field.value !== field.defaultValue) field.value = field.defaultValue;
  }
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

document.addEventListener("htmx:error", () => document.body.classList.add("cut-off"));
document.addEventListener("htmx:after:swap", () => document.body.classList.remove("cut-off"));
