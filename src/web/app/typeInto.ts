/** Puts a text into a field at once, the way React sees what is typed: a key that comes next finds it there. */
export function typeInto(field: HTMLInputElement | HTMLTextAreaElement, text: string): void {
  const setter = Object.getOwnPropertyDescriptor(
    Object.getPrototypeOf(field) as object,
    'value',
  )?.set;
  setter?.call(field, text);
  field.dispatchEvent(new Event('input', { bubbles: true }));
}
