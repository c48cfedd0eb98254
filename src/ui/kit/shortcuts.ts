'use client';
import { useCallback, useEffect, useLayoutEffect, useRef } from 'react';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { z } from 'zod';
import { browserStore } from './browserStore';
import { comboText, isCombo, sameCombo, type Combo } from './combos';

/** One command of a screen that has a key. */
export interface Shortcut {
  /** Table and name: "Intake.accept". */
  id: string;
  group: string;
  /** Its key as Grento ships it. */
  combo: Combo;
  does: string;
  /** It works while the key is held. */
  isHeld: boolean;
}

export type Shortcuts<A extends string> = Readonly<Record<A, Shortcut>>;

/** A table of shortcuts. A line is the key, what it does and, for keys that are held, "held". */
export const shortcuts = <A extends string>(
  group: string,
  lines: Readonly<Record<A, readonly [combo: Combo, does: string, held?: 'held']>>,
): Shortcuts<A> =>
  Object.fromEntries(
    Object.entries<readonly [Combo, string, 'held'?]>(lines).map(([name, [combo, does, held]]) => [
      name,
      { id: `${group}.${name}`, group, combo, does, isHeld: held === 'held' },
    ]),
  ) as Shortcuts<A>;

/** Keys that were changed in this browser, by the id of their command. */
const changed = browserStore('grento-shortcuts', z.record(z.string(), z.string()), {});

/** Gives a command another key; null: its own again. */
export function changeKey({ id, combo: own }: Shortcut, combo: Combo | null): void {
  const others = Object.entries(changed.now()).filter(([one]) => one !== id);
  changed.set(Object.fromEntries(combo === null || combo === own ? others : [...others, [id, combo]]));
}

const comboNow = ({ id, combo }: Shortcut): Combo => changed.now()[id] ?? combo;

/** The commands among these that another one's key would also call. */
export const conflictsWith = (one: Shortcut, combo: Combo, others: readonly Shortcut[]): Shortcut[] =>
  others.filter((other) => other.id !== one.id && sameCombo(comboNow(other), combo));

/** Keys that were changed in this browser, by the id of their command. */
export const useChangedKeys = changed.use;

/** How keys are printed now. */
export function useKeyText(): (shortcut: Shortcut) => string {
  const combos = changed.use();
  return useCallback(
    ({ id, combo, isHeld }) => `${comboText(combos[id] ?? combo)}${isHeld ? ' (held)' : ''}`,
    [combos],
  );
}

/** A tooltip with its key: "Undo (Ctrl + Z)". */
export function useHint(): (shortcut: Shortcut, words?: string) => string {
  const keyText = useKeyText();
  return useCallback((shortcut, words = shortcut.does) => `${words} (${keyText(shortcut)})`, [keyText]);
}

const shown = new Set<{ listed: readonly Shortcut[] }>();
const listed = createStore<readonly Shortcut[]>(() => []);
const relist = () =>
  listed.setState(
    [...shown].flatMap((one) => one.listed),
    true,
  );

/** Shows commands of a table on the sheet of the present screen. */
function useListed<A extends string>(table: Shortcuts<A>, names: readonly A[]) {
  const joined = names.join(' ');
  useEffect(() => {
    const mine = { listed: (joined.split(' ') as A[]).flatMap((name) => table[name] ?? []) };
    shown.add(mine);
    relist();
    return () => {
      shown.delete(mine);
      relist();
    };
  }, [table, joined]);
}

export type Handlers<A extends string> = Partial<Record<A, (event: KeyboardEvent) => unknown>>;

/**
 * Puts the keys of a table to work while a screen is shown: those that have a handler. They rest while something is
 * typed into a field, or under a dialog.
 */
export function useShortcuts<A extends string>(table: Shortcuts<A>, handlers: Handlers<A>): void {
  const newest = useRef(handlers);
  // In the commit, not after it is painted: a key pressed at what has just appeared acts on that.
  useLayoutEffect(() => {
    newest.current = handlers;
  });
  const names = Object.keys(table) as A[];
  useListed(
    table,
    names.filter((name) => handlers[name]),
  );
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isTyping(event) || isUnderDialog()) return;
      const name = (Object.keys(table) as A[]).find(
        (one) => newest.current[one] && isCombo(comboNow(table[one]), event),
      );
      if (name === undefined) return;
      event.preventDefault();
      newest.current[name]?.(event);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [table]);
}

/** Shows keys on the sheet that are handled elsewhere. */
export const useShownShortcuts = (table: Shortcuts<string>): void => useListed(table, Object.keys(table));

/** All commands that have a key on the present screen. */
export const useListedShortcuts = (): readonly Shortcut[] => useStore(listed);

/** Whether a dialog lies over the screen: its keys, Escape among them, are the dialog's, wherever the focus is. */
const isUnderDialog = () => document.querySelector('[role="dialog"]') !== null;

/** Whether a key is written into something, or presses what has the focus. */
export function isTyping({ target, code, ctrlKey, metaKey }: KeyboardEvent): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest('[role="dialog"], [role="listbox"], [role="menu"]')) return true;
  // A text has nothing of its own for them.
  if ((ctrlKey || metaKey) && (code === 'KeyS' || code === 'Enter')) return false;
  if (target.isContentEditable || target.tagName === 'TEXTAREA') return true;
  // Its arrows open it.
  if (target.role === 'combobox' && code.startsWith('Arrow')) return true;
  if (target instanceof HTMLInputElement) {
    return target.type === 'range'
      ? code.startsWith('Arrow') || code.startsWith('Page') || code === 'Home' || code === 'End'
      : !['checkbox', 'radio'].includes(target.type);
  }
  // Space and Enter press the button that has the focus.
  return (target.tagName === 'BUTTON' || target.tagName === 'A') && (code === 'Space' || code === 'Enter');
}
