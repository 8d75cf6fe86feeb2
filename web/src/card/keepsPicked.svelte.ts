/** A field whose text is all picked stays so when another value arrives: what is typed next stands in its place, not behind
    it. To be attached to the field; `shown` is what it shows. */
export function keepsPicked(shown: () => unknown) {
  return (field: HTMLInputElement | HTMLTextAreaElement) => {
    let all = false;
    const picked = () =>
      (all = field.value !== "" && field.selectionStart === 0 && field.selectionEnd === field.value.length);
    document.addEventListener("selectionchange", picked);
    field.addEventListener("selectionchange", picked);
    field.addEventListener("input", () => (all = false));
    $effect(() => {
      shown();
      // told of a change of what is picked comes after this
      if (all && document.activeElement === field) field.select();
    });
    return () => document.removeEventListener("selectionchange", picked);
  };
}
