// Buttons that open a dialog, or print. Of the help what the screen in sight is for is shown.
import { screenNow } from "./page.js";

document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-opens]");
  if (opener) {
    for (const help of document.querySelectorAll("[data-help]")) help.hidden = help.dataset.help !== screenNow();
    document.getElementById(opener.dataset.opens).showModal();
  }
  if (event.target.closest("[data-prints]")) window.print();
});
