// What the other modules ask of the page.

// The screen that is shown: the stage of a job, or another page's main part.
export const screenNow = () => {
  const main = document.querySelector("main");
  return main?.dataset.screen ?? main?.id ?? "";
};

// The job that is shown: its number is data-live, the revision it stands at data-revision.
export const jobNow = () => document.querySelector("main[data-live]");

// Whether an element is typed into.
export const isTyping = (element) =>
  Boolean(element?.matches?.("input:not([type=checkbox], [type=radio], [type=file], [type=image]), select, textarea"));

// Whether a field holds something else than the page that the workshop sent.
export const differs = (field) =>
  field.matches("select") ? [...field.options].some((each) => each.selected !== each.defaultSelected) : field.value !== field.defaultValue;

const status = () => document.getElementById("status");

// Announces a text to those who do not see the page.
export const announce = (text) => {
  if (status() && text) status().textContent = text;
};

// One of the page's own sentences, by its name; {what} in it is replaced.
export const sentence = (name, what = "") => (status()?.dataset[name] ?? "").replace("{what}", what);

// The element whose request a swap answers; kept from the asking on, for a swap may take it out of the page.
const askers = new WeakMap();
document.addEventListener("htmx:before:request", (event) => askers.set(event.detail.ctx, event.detail.ctx.sourceElement));
export const askedBy = (event) => askers.get(event.detail?.ctx);

export const withModifier = (event) => event.ctrlKey || event.metaKey || event.altKey;

// Presses what has a key. Returns: whether there is anything.
export function pressKey(key) {
  const pressed = `[data-key="${CSS.escape(key)}"]`;
  const target = document.querySelector(`input${pressed}`) ?? document.querySelector(pressed);
  if (target?.matches("input:not([type=hidden])")) target.focus();
  else target?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true, view: window }));
  return Boolean(target);
}
