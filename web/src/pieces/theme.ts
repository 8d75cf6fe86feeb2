/** How the component library's dialog looks here; given in one place. */
export const sheet = {
  base: "border border-[var(--rim)] rounded-xl bg-[var(--enamel)] text-[var(--ink)] divide-[var(--line)] divide-y max-w-lg",
  wide: "border border-[var(--rim)] rounded-xl bg-[var(--enamel)] text-[var(--ink)] divide-[var(--line)] divide-y max-w-5xl",
  header: "text-[var(--ink)] text-[17px] font-bold p-5",
  body: "p-5 text-[14px] space-y-3",
};
