'use client';
import { useEffect, useState } from 'react';
import { Button } from '../kit/Button';
import { comboOf, comboText } from '../kit/combos';
import { KeyHint } from '../kit/KeyHint';
import { changeKey, conflictsWith, useChangedKeys, useKeyText, type Shortcut } from '../kit/shortcuts';
import { besideOf, TABLES } from '../shortcuts/shortcutTables';

/** Every shortcut with its key, and another key for it. */
export function KeySettings() {
  const keyText = useKeyText();
  const changed = useChangedKeys();
  const [asked, setAsked] = useState<Shortcut | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  useEffect(() => {
    if (!asked) return;
    const onKey = (event: KeyboardEvent) => {
      const combo = comboOf(event);
      if (combo === null) return;
      event.preventDefault();
      event.stopPropagation();
      const [other] = conflictsWith(asked, combo, besideOf(asked));
      setRefusal(
        other
          ? `${comboText(combo)} already means “${other.does}” (${other.group}). Press another key.`
          : null,
      );
      if (other) return;
      changeKey(asked, combo);
      setAsked(null);
    };
    // Ahead of the shortcuts themselves.
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [asked]);
  return (
    <>
      <p>Press “Change”, then the new key. Changes are kept in this browser.</p>
      {TABLES.map((table) => {
        const all = Object.values(table);
        return (
          <details key={all[0].group} className="border-b border-rule pb-1">
            <summary className="cursor-pointer font-semibold">{all[0].group}</summary>
            <ul className="text-small">
              {all.map((one) => (
                <li key={one.id} className="flex min-h-8 items-center gap-3">
                  <span className="min-w-0 flex-1">{one.does}</span>
                  {asked?.id === one.id ? (
                    <>
                      <span role="status" className={refusal ? 'text-one' : 'text-look'}>
                        {refusal ?? 'Press a key…'}
                      </span>
                      <Button small onClick={() => setAsked(null)}>
                        Cancel
                      </Button>
                    </>
                  ) : (
                    <>
                      <KeyHint>{keyText(one)}</KeyHint>
                      {one.id in changed && (
                        <Button small tone="quiet" onClick={() => changeKey(one, null)}>
                          Reset
                        </Button>
                      )}
                      <Button
                        small
                        aria-label={`Change the key of: ${one.does} (${one.group})`}
                        onClick={() => {
                          setRefusal(null);
                          setAsked(one);
                        }}
                      >
                        Change
                      </Button>
                    </>
                  )}
                </li>
              ))}
            </ul>
          </details>
        );
      })}
    </>
  );
}
