'use client';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useMemo, useState } from 'react';
import { Button } from '../pieces/Button';
import { KeyHint } from '../pieces/KeyHint';
import { beginGuide } from './Guide';
import { useKeys, useListedKeys, type KeyAction } from './keys';
import { Words } from './Words';

/** The sheet that lists the keys of the present screen and explains Grento's words; "?" opens it. */
export function KeySheet() {
  const [open, setOpen] = useState(false);
  const [sheet, setSheet] = useState<'keys' | 'words'>('keys');
  useKeys(
    useMemo<KeyAction[]>(
      () => [
        {
          keys: '?',
          does: 'Show this sheet',
          group: 'Everywhere',
          matches: (event) => event.key === '?',
          run: () => setOpen(true),
        },
      ],
      [],
    ),
  );
  const keys = useListedKeys();
  const groups = [...new Set(keys.map(({ group }) => group))];
  return (
    <Dialog open={open} onClose={() => setOpen(false)} className="relative z-50">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-6">
        <DialogPanel className="max-h-full w-[46rem] overflow-auto border border-rule-strong bg-sheet p-6 shadow-xl">
          <div className="mb-4 flex items-center justify-between">
            <DialogTitle className="text-lg font-semibold">
              {sheet === 'keys' ? 'Keys on this screen' : 'Grento’s words'}
            </DialogTitle>
            <div className="flex gap-1.5">
              {(['keys', 'words'] as const).map((name) => (
                <Button key={name} pressed={sheet === name} onClick={() => setSheet(name)}>
                  {name === 'keys' ? 'Keys' : 'Words'}
                </Button>
              ))}
              <Button
                onClick={() => {
                  setOpen(false);
                  beginGuide();
                }}
              >
                Guide
              </Button>
              <Button onClick={() => setOpen(false)}>Close</Button>
            </div>
          </div>
          {sheet === 'words' && <Words />}
          <div className="columns-2 gap-8" hidden={sheet !== 'keys'}>
            {groups.map((group) => (
              <section key={group} className="mb-4 break-inside-avoid">
                <h3 className="mb-1 border-b border-rule text-small font-semibold text-ink-soft">{group}</h3>
                <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-3 gap-y-1">
                  {keys
                    .filter((action) => action.group === group)
                    .map(({ keys: printed, does }) => (
                      <div key={printed + does} className="contents">
                        <dt>
                          <KeyHint>{printed}</KeyHint>
                        </dt>
                        <dd>{does}</dd>
                      </div>
                    ))}
                </dl>
              </section>
            ))}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
