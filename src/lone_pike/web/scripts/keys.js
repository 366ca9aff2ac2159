// Every key presses something that is on the page: an element with data-key.
import { isTyping, pressKey, withModifier } from "./page.js";
import { isOfCaliper } from "./caliper.js";

document.addEventListener("keydown", (event) => {
  const inHand = document.activeElement;
  if (withModifier(event) || isTyping(inHand)) return;
  // A key that is held down acts once.
  if (event.repeat && event.key !== "Tab") return event.preventDefault();
  if (document.querySelector("dialog[open]")) return;
  if (isOfCaliper(event)) return;
  document.body.classList.remove("no-field");
  const ownPress = event.key === "Enter" ? "a, button, summary, input" : "button, summary, input";
  if ((event.key === "Enter" || event.key === " ") && inHand?.matches?.(ownPress)) return;
  const key = (event.shiftKey && event.key.startsWith("Arrow") ? "Shift+" : "") + event.key;
  if (pressKey(key)) event.preventDefault();
});
