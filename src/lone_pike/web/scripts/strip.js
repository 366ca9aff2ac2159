// A rivet is tried by pressing it on the strip: what it would leave is said before the tool is on the chain.
document.addEventListener("click", (event) => {
  const strip = event.target.closest?.("[data-tries] .strip"), field = document.querySelector('[name="rivet"]');
  if (!strip || !field) return;
  const away = (text) => {
    const box = text.getBoundingClientRect();
    return Math.hypot(box.x + box.width / 2 - event.clientX, (box.y + box.height * 1.6 - event.clientY) / 1.2);
  };
  const nearest = [...strip.querySelectorAll("[data-joint]")].reduce((one, other) => (away(other) < away(one) ? other : one));
  field.value = nearest.dataset.joint;
  field.form.requestSubmit();
});
