'use client';
import { useEffect, useLayoutEffect, useRef } from 'react';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

/** One key of a screen: what it is called on the sheet, which event it answers to, what it does. */
export interface KeyAction {
  /** As printed: "Space", "Shift + ,". */
  keys: string;
  does: string;
  group: string;
  matches: (event: KeyboardEvent) => boolean;
  run: (event: KeyboardEvent) => void;
}

/** Builds a matcher: "Space", "Shift+Comma", "Ctrl+KeyZ" (Ctrl or Cmd), by the place of the key. */
export function key(combination: string): (event: KeyboardEvent) => boolean {
  const parts = combination.split('+');
  const code = parts[parts.length - 1];
  const want = { shift: parts.includes('Shift'), ctrl: parts.includes('Ctrl'), alt: parts.includes('Alt') };
  return (event) =>
    event.code === code &&
    event.shiftKey === want.shift &&
    (event.ctrlKey || event.metaKey) === want.ctrl &&
    event.altKey === want.alt;
}

/** Answers to the character that is typed, wherever it stands on the keyboard. */
export function character(typed: string): (event: KeyboardEvent) => boolean {
  return (event) => event.key.toLowerCase() === typed && !event.ctrlKey && !event.metaKey && !event.altKey;
}

const sheets = new Set<{ actions: readonly KeyAction[] }>();
const listed = createStore<readonly KeyAction[]>(() => []);

const relist = () =>
  listed.setState(
    [...sheets].flatMap(({ actions }) => actions),
    true,
  );

/** Puts a screen's keys to work while it is shown. They rest while something is typed into a field. */
export function useKeys(actions: readonly KeyAction[]) {
  const sheet = useRef<{ actions: readonly KeyAction[] }>({ actions });
  // In the commit, not after it is painted: a key pressed at what has just appeared acts on that.
  useLayoutEffect(() => {
    sheet.current.actions = actions;
  });
  useEffect(() => {
    const mine = sheet.current;
    sheets.add(mine);
    relist();
    const hear = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isTyping(event)) return;
      const action = mine.actions.find(({ matches }) => matches(event));
      if (!action) return;
      event.preventDefault();
      action.run(event);
    };
    window.addEventListener('keydown', hear);
    return () => {
      window.removeEventListener('keydown', hear);
      sheets.delete(mine);
      relist();
    };
  }, []);
}

/** All keys that work on the present screen. */
export function useListedKeys(): readonly KeyAction[] {
  return useStore(listed);
}

/** Whether a key is written into something, or presses what has the focus. */
export function isTyping({ target, code }: KeyboardEvent): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest('[role="dialog"], [role="listbox"], [role="menu"]')) return true;
  if (target.isContentEditable || target.tagName === 'TEXTAREA' || target.tagName === 'SELECT') return true;
  if (target instanceof HTMLInputElement) {
    return target.type === 'range'
      ? code.startsWith('Arrow') || code.startsWith('Page') || code === 'Home' || code === 'End'
      : !['checkbox', 'radio'].includes(target.type);
  }
  // Space and Enter press the button that has the focus.
  return (target.tagName === 'BUTTON' || target.tagName === 'A') && (code === 'Space' || code === 'Enter');
}
