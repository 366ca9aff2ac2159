// Where the photo was pressed: a swap does not send it by itself. Enter presses no place.
document.addEventListener("click", (event) => {
  if (!event.target.matches?.("input[type=image]")) return;
  if (event.detail === 0) event.preventDefault();
  for (const [axis, at] of [["x", event.offsetX], ["y", event.offsetY]]) {
    event.target.form.querySelector(`[name="at.${axis}"]`).value = Math.max(0, Math.round(at));
  }
}, true);
