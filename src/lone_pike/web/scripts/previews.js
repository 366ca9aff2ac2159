// What is asked while typing carries only what differs from the page the workshop sent, and names the fields that say
// something now, so that they can fall silent again. A tick is sent with the whole form, as a save is.
import { differs, isTyping } from "./page.js";

document.addEventListener("htmx:config:request", (event) => {
  const { sourceElement, request } = event.detail.ctx;
  if (!sourceElement.dataset.previews || !(request.body instanceof FormData)) return;
  const fields = [...document.querySelectorAll("[form=measures]")];
  if (fields.some((each) => each.type === "checkbox" && each.checked !== each.defaultChecked)) return;
  for (const field of fields) {
    if (field.type === "checkbox" || (isTyping(field) && field.type !== "hidden" && !differs(field))) request.body.delete(field.name);
  }
  request.body.delete("whole");
  request.body.set("noted", [...document.querySelectorAll("[data-notes]")].filter((each) => each.childElementCount).map((each) => each.dataset.notes).join(" "));
});
