// What is wrong with how the page lies, as sentences: it scrolls sideways, texts lie over one another or under something,
// something is cut off without a sign of it. Of a dialog that is open only what is in it can be read.
const faults = new Set();
const root = document.scrollingElement;
if (root.scrollWidth > innerWidth + 1) faults.add(`the page scrolls sideways: ${root.scrollWidth} of ${innerWidth}`);

const colour = (e) => getComputedStyle(e).backgroundColor;
const opaque = (e) => e.tagName === "CANVAS" || !/transparent|rgba\(.*, ?0(\.\d+)?\)|\/ 0/.test(colour(e));
const kin = (a, b) => a.contains(b) || b.contains(a);

/** What of an element can be seen: the window, cut by all round it that cut. */
function window_of(element) {
  const seen = { left: 0, top: 0, right: innerWidth, bottom: innerHeight };
  for (let up = element; up; up = up.parentElement) {
    const style = getComputedStyle(up);
    if (style.overflowX === "visible" && style.overflowY === "visible" && up.tagName !== "svg") continue;
    const box = up.getBoundingClientRect();
    seen.left = Math.max(seen.left, box.left);
    seen.top = Math.max(seen.top, box.top);
    seen.right = Math.min(seen.right, box.right);
    seen.bottom = Math.min(seen.bottom, box.bottom);
  }
  return seen;
}

/** Lines of text that are shown, each with the box of its ink: a line is taller than its letters. */
function lines() {
  const found = [];
  const walker = document.createTreeWalker(document.querySelector("dialog:modal") ?? document.body, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const element = node.parentElement;
    const text = node.data.trim();
    if (!text || element.closest("script, style, option, [aria-hidden=true]")) continue;
    if (!element.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    const seen = window_of(element);
    for (const line of range.getClientRects()) {
      const left = Math.max(line.left + 1, seen.left);
      const right = Math.min(line.right - 1, seen.right);
      const top = Math.max(line.top + 0.18 * line.height, seen.top);
      const bottom = Math.min(line.bottom - 0.18 * line.height, seen.bottom);
      if (right - left > 1 && bottom - top > 2) found.push({ text: text.slice(0, 40), element, left, right, top, bottom });
    }
  }
  return found;
}

const all = lines();
for (const [at, a] of all.entries()) {
  for (const b of all.slice(at + 1)) {
    if (a.element === b.element) continue;
    const [left, right] = [Math.max(a.left, b.left), Math.min(a.right, b.right)];
    const [top, bottom] = [Math.max(a.top, b.top), Math.min(a.bottom, b.bottom)];
    if (right - left <= 1 || bottom - top <= 1) continue;
    // of two sheets that lie one on the other only the upper one is read
    const stack = document.elementsFromPoint((left + right) / 2, (top + bottom) / 2);
    const places = [a, b].map((line) => stack.indexOf(line.element)).filter((place) => place >= 0);
    const [upper, lower] = places.length < 2 ? [0, places[0] ?? 0] : places.sort((x, y) => x - y);
    const low = stack[lower];
    if (stack.slice(upper, lower).some((e) => !kin(e, low) && opaque(e))) continue;
    faults.add(`“${a.text}” lies over “${b.text}”`);
  }
  const stack = document.elementsFromPoint((a.left + a.right) / 2, (a.top + a.bottom) / 2);
  const own = stack.indexOf(a.element);
  // what can't be pressed is not in the stack
  if (own < 0 && (a.element.closest("svg") || getComputedStyle(a.element).pointerEvents === "none")) continue;
  const over = stack.slice(0, own < 0 ? stack.length : own).find((e) => !kin(e, a.element) && opaque(e));
  if (over) faults.add(`“${a.text}” lies under ${over.tagName.toLowerCase()}.${over.classList[0] ?? ""}`);
}

for (const element of new Set(all.map((line) => line.element))) {
  for (let up = element; up && up !== document.body; up = up.parentElement) {
    const style = getComputedStyle(up);
    if (up.closest("svg")) break;
    if (style.display === "inline" || style.overflowX === "visible") continue;
    // tables are as wide as what they hold, and are scrolled where they lie
    const table = up.querySelector("table, [role=grid] > *");
    const cut = up.scrollWidth > up.clientWidth + 1 && style.textOverflow !== "ellipsis" && !table;
    if (cut) faults.add(`cut off at ${up.clientWidth} of ${up.scrollWidth}: “${up.innerText.slice(0, 40)}”`);
    break;
  }
}
return [...faults];
