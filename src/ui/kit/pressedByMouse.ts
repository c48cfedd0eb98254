import type { MouseEvent } from 'react';

/**
 * For `onMouseDown` of buttons: pressing with the mouse does not take the keyboard's focus, so that Space
 * goes on to play and stop instead of pressing the same button again. A field that is being written in is
 * left, so that what stands there counts.
 */
export function keepKeysFree(event: MouseEvent) {
  event.preventDefault();
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
}
