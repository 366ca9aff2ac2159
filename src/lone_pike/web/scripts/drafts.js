// What is being typed is kept on this machine until the workshop has it: it survives a reload, a closed tab, and a
// workshop that is away. A page names its drafts by data-draft; a form that hands them over has data-keeps.
import { announce, askedBy, differs, sentence } from "./page.js";

const DRAFTED = "input[form=measures]:not([type=checkbox], [type=hidden]), [data-drafted]";
const draftKey = () => `draft ${document.querySelector("[data-draft]")?.dataset.draft ?? ""}`;

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
    announce(sentence("draftAgain"));
  }
}
window.addEventListener("load", () => setTimeout(restoreDraft));

// Once the workshop has answered a form, its texts are the workshop's; what was typed since then stays a draft.
document.addEventListener("htmx:after:swap", (event) => {
  if (!askedBy(event)?.closest?.("[data-keeps]")) return;
  keepDraft(Object.fromEntries([...document.querySelectorAll(DRAFTED)].filter(differs).map((field) => [field.name, field.value])));
});
document.addEventListener("submit", (event) => {
  if (event.target.dataset.keeps === "all") keepDraft({});
}, true);
