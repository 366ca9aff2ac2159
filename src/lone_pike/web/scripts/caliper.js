// A caliper types faster than a hand: what it types with no field in hand moves nothing, and that is announced.
import { announce, pressKey, sentence } from "./page.js";

// A digit is a key only when nothing else is typed so long before or after it; other keys wait as a caliper types.
const DIGIT_MS = 400, OTHER_MS = 80;
const MEASURED = /^[0-9.,-]$/;
let burst = "", burstAt = 0, waiting = 0;

// Whether a key belongs to a reading that came in with no field in hand.
export function isOfCaliper(event) {
  // When the key was pressed, not when a busy page came to it.
  const now = event.timeStamp, inBurst = burst.length > 1 && now - burstAt < DIGIT_MS;
  if (event.key === "Enter" && inBurst) {
    announce(sentence("noField", burst));
    document.body.classList.add("no-field");
    burst = "";
    event.preventDefault();
    return true;
  }
  if (!MEASURED.test(event.key)) return false;
  event.preventDefault();
  const before = now - burstAt < DIGIT_MS ? burst : "", waits = /\d/.test(before + event.key) ? DIGIT_MS : OTHER_MS;
  const follows = before && now - burstAt < waits;
  burst = follows ? before + event.key : event.key;
  burstAt = now;
  clearTimeout(waiting);
  if (!follows) waiting = setTimeout(() => pressKey(event.key), waits);
  return true;
}
