// Files: one dropped anywhere on the Stand goes through the same form as a chosen one; a table's file is read into its
// field, as if it had been pasted there.
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

document.addEventListener("change", async (event) => {
  const field = document.getElementById(event.target.dataset?.readsInto);
  if (!field || !event.target.files?.length) return;
  event.stopPropagation();
  field.value = await event.target.files[0].text();
  field.dispatchEvent(new Event("change", { bubbles: true }));
}, true);
