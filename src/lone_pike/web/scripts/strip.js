// A rivet is tried by pressing it on the strip: what it would leave is said before the tool is on the chain. Where the
// strip names the field that it fills, nothing is sent yet.
document.addEventListener("click", (event) => {
  const strip = event.target.closest?.("[data-tries] .strip"), fills = strip?.closest("[data-tries]").dataset.tries;
  const field = document.querySelector(`[name="${fills || "rivet"}"]`);
  if (!strip || !field) return;
  const away = (text) => {
    const box = text.getBoundingClientRect();
    return Math.hypot(box.x + box.width / 2 - event.clientX, (box.y + box.height * 1.6 - event.clientY) / 1.2);
  };
  const nearest = [...strip.querySelectorAll("[data-joint]")].reduce((one, other) => (away(other) < away(one) ? other : one));
  field.value = nearest.dataset.joint;
  if (!fills) field.form.requestSubmit();
});
