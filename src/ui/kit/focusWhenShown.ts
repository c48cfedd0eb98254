/** Frames that are waited for a field to be drawn. */
const PATIENCE = 60;

/** Puts the keyboard into a field as soon as it is there. */
export function focusWhenShown(id: string, frames = PATIENCE): void {
  const field = document.getElementById(id);
  if (field) field.focus();
  else if (frames > 0) requestAnimationFrame(() => focusWhenShown(id, frames - 1));
}
