import { comboText } from '../kit/combos';
import { besideOf, SCREENS, SHELF, TARGET } from './shortcutTables';
import { conflictsWith } from '../kit/shortcuts';

test.each(Object.entries(SCREENS))('on %s no key has two meanings', (_, tables) => {
  const meanings = new Map<string, string[]>();
  for (const { combo, id } of tables.flatMap((table) => Object.values(table)))
    meanings.set(comboText(combo), [...(meanings.get(comboText(combo)) ?? []), id]);
  expect([...meanings].filter(([, ids]) => ids.length > 1)).toEqual([]);
});

test('a key that another command of the same screen has is a conflict, one of another screen is none', () => {
  expect(conflictsWith(SHELF.similar, 'Shift+KeyT', besideOf(SHELF.similar))).toEqual([TARGET.onOff]);
  expect(conflictsWith(SHELF.similar, 'KeyG', besideOf(SHELF.similar))).toEqual([SHELF.grid]);
  // Accept is a command of the Intake.
  expect(conflictsWith(SHELF.similar, 'h', besideOf(SHELF.similar))).toEqual([]);
  expect(conflictsWith(SHELF.similar, 'l', besideOf(SHELF.similar))).toEqual([]);
});
