// Light or dark by hand, on this machine alone; else as the system has it.
const KEPT = "lone-pike-scheme", BY_SYSTEM = "as the system";

function show(scheme) {
  const own = scheme === "light" || scheme === "dark";
  if (own) document.documentElement.dataset.scheme = scheme;
  else delete document.documentElement.dataset.scheme;
  for (const each of document.querySelectorAll("button[data-scheme]")) each.setAttribute("aria-pressed", String(each.dataset.scheme === (own ? scheme : BY_SYSTEM)));
}

function kept() {
  try { return localStorage.getItem(KEPT); } catch { return null; }
}

document.addEventListener("click", (event) => {
  const scheme = event.target.closest?.("button[data-scheme]")?.dataset.scheme;
  if (!scheme) return;
  try { localStorage.setItem(KEPT, scheme); } catch { /* A browser that keeps nothing shows it until the page is left. */ }
  show(scheme);
});
show(kept());
