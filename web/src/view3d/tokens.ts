/** Colours of the page, for what is drawn in three dimensions. */
const tokens = new Map<string, string>();
/** A colour of the page's, asked for once: with every letter typed it would be worked out anew with all styles. */
export function token(name: string): string {
  const value = tokens.get(name) ?? getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  tokens.set(name, value);
  return value;
}
