'use client';
import { useState } from 'react';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { Button } from '../kit/Button';
import { KeyHint } from '../kit/KeyHint';
import { Overlay } from '../kit/Overlay';
import { Segmented } from '../kit/Segmented';
import { useKeyText, useListedShortcuts, useShortcuts } from '../kit/shortcuts';
import { Glossary } from './Glossary';
import { beginGuide } from './Guide';
import { EVERYWHERE } from '../shortcuts/shortcutTables';

const SHEETS = ['Shortcuts', 'Glossary'] as const;

/** Whether the sheet is open. */
const sheetOpen = createStore(() => false);
export const openKeySheet = (): void => sheetOpen.setState(true, true);

/** The sheet that lists the shortcuts of the present screen and explains Grento's words; "?" opens it. */
export function KeySheet() {
  const isOpen = useStore(sheetOpen);
  const setOpen = (open: boolean) => sheetOpen.setState(open, true);
  const [sheet, setSheet] = useState<(typeof SHEETS)[number]>('Shortcuts');
  useShortcuts(EVERYWHERE, {
    sheet: () => {
      setSheet('Shortcuts');
      setOpen(true);
    },
  });
  const close = () => setOpen(false);
  return (
    <Overlay
      title={sheet === 'Shortcuts' ? 'Keyboard shortcuts' : 'Glossary'}
      isOpen={isOpen}
      onClose={close}
      actions={
        <>
          <Segmented label="Sheet" isBare value={sheet} options={SHEETS} onChange={setSheet} />
          <Button
            onClick={() => {
              close();
              beginGuide();
            }}
          >
            Guide
          </Button>
        </>
      }
    >
      {sheet === 'Glossary' ? <Glossary /> : <KeysOfScreen />}
    </Overlay>
  );
}

function KeysOfScreen() {
  const all = useListedShortcuts();
  const keyText = useKeyText();
  const groups = [...new Set(all.map(({ group }) => group))];
  return (
    <div className="columns-2 gap-8">
      {groups.map((group) => (
        <section key={group} className="mb-4 break-inside-avoid">
          <h3 className="mb-1 border-b border-rule text-small font-semibold text-ink-soft">{group}</h3>
          <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-3 gap-y-1">
            {all
              .filter((one) => one.group === group)
              .map((one) => (
                <div key={one.id} className="contents">
                  <dt>
                    <KeyHint>{keyText(one)}</KeyHint>
                  </dt>
                  <dd>{one.does}</dd>
                </div>
              ))}
          </dl>
        </section>
      ))}
    </div>
  );
}
