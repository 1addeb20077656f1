/** The one entry of ./umber. It is written so that an old Node can read it, and say so: everything else needs a newer one. */
var found = process.versions.node.split(".").map(Number);
if (found[0] < 20 || (found[0] === 20 && found[1] < 9)) {
  console.error("Umber Moth needs Node.js 20.9 or newer and found v" + process.versions.node + ": install a newer one and try again.");
  process.exit(1);
}
import("./umber.mjs");
