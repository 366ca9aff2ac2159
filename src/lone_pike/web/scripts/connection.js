// A workshop that does not answer is waited for, and what was typed meanwhile is sent again.
import { announce, sentence } from "./page.js";

const RETRY_MS = 3000;

function sendAgain() {
  fetch(document.body.dataset.alive).then((answer) => {
    if (!answer.ok) throw new Error(String(answer.status));
    document.body.classList.remove("cut-off");
    const changed = [...document.querySelectorAll("input[form=measures]:not([type=checkbox], [type=hidden])")].filter((each) => each.value !== each.defaultValue);
    changed[0]?.dispatchEvent(new Event("change", { bubbles: true }));
    announce(sentence(changed.length ? "sentAgain" : "answers"));
  }).catch(() => setTimeout(sendAgain, RETRY_MS));
}

function cutOff() {
  if (document.body.classList.contains("cut-off")) return;
  document.body.classList.add("cut-off");
  announce(sentence("cutOff"));
  setTimeout(sendAgain, RETRY_MS);
}
document.addEventListener("htmx:error", cutOff);
window.addEventListener("offline", cutOff);
window.addEventListener("load", () => { if (!navigator.onLine) cutOff(); });
