// Buttons that open a dialog, or print.
document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-opens]");
  if (opener) document.getElementById(opener.dataset.opens).showModal();
  if (event.target.closest("[data-prints]")) window.print();
});
