// Every page loads this; each module does one thing, and knows the page by the data attributes the server sets.
import "./settle.js";
import "./caliper.js";
import "./keys.js";
import "./fields.js";
import "./previews.js";
import "./focus.js";
import "./drafts.js";
import "./connection.js";
import "./scheme.js";
import "./dialogs.js";
import "./files.js";
import "./photo.js";
import "./pointers.js";
import "./zoom.js";
import "./idlers.js";
import "./strip.js";
import "./live.js";
