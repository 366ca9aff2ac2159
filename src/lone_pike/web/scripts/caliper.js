// A caliper types faster than a hand: what it types with no field in hand moves nothing, and that is announced.
import { announce, sentence } from "./page.js";
import { pressKey } from "./keys.js";

const BURST_MS = 80, BURST_ENDS_MS = 300;
const MEASURED = /^[0-9.,-]$/;
let burst = "", burstAt = 0, waiting = 0;

// Whether a key belongs to a reading that came in with no field in hand.
export function isOfCaliper(event) {
  const now = performance.now(), inBurst = burst.length > 1 && now - burstAt < BURST_ENDS_MS;
  if (event.key === "Enter" && inBurst) {
    announce(sentence("noField", burst));
    document.body.classList.add("no-field");
    burst = "";
    event.preventDefault();
    return true;
  }
  if (!MEASURED.test(event.key)) return false;
  event.preventDefault();
  const follows = burst && now - burstAt < (burst.length > 1 ? BURST_ENDS_MS : BURST_MS);
  burst = follows ? burst + event.key : event.key;
  burstAt = now;
  clearTimeout(waiting);
  if (!follows) waiting = setTimeout(() => pressKey(event.key), BURST_MS);
  return true;
}
