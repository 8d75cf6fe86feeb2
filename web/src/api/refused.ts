/** Why the last change was not kept, for the field that sent it to show beside what was typed. */
export const refused = {
  why: "",
  /** Takes the reason off the foot of the window. */
  quiet: () => {},
  /** The reason, which then stands beside the field alone. */
  beside(): string {
    this.quiet();
    return this.why;
  },
};
