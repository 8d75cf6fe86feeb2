/** Why the last change was not kept; a field that sent it shows it beside what was typed. */
export const refused = { why: "" };
