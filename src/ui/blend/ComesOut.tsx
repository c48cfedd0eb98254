'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Outcome } from '@/contract/mix';
import type { AudioWriteFormat } from '@/core/recipes/recipe';
import { askForMixes, tempoMapUrl } from '../api/blends';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { IntoPack, packOfChoice, type PackChoice } from '../packs/IntoPack';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { FormatSelect, RateSelect } from '../pieces/WriteSelects';
import type { BlendHand } from './useBlend';
import type { Scored } from './useScore';

/** What a musician takes away: mix, lanes from bar 1, click, tempo map. */
export function ComesOut({ hand, scored }: { hand: BlendHand; scored: Scored }) {
  const [wanted, setWanted] = useState({ mix: true, lanes: false, click: false });
  const [countInBars, setCountIn] = useState(1);
  const [format, setFormat] = useState<AudioWriteFormat>('wav 24');
  const [sampleRate, setRate] = useState<number>(44_100);
  const [asSet, setSet] = useState(true);
  const [pack, setPack] = useState<PackChoice>({ into: 'none' });
  const [isAsking, setAsking] = useState(false);
  const sounding = scored.score.lanes.filter(({ parts }) => parts.length > 0);
  const outcomes: Outcome[] = [
    ...(wanted.mix ? [{ what: 'mix' } as const] : []),
    ...(wanted.click ? [{ what: 'click', countInBars } as const] : []),
    ...(wanted.lanes
      ? sounding.map(({ lane }) => ({ what: 'lane', laneId: lane.laneId, name: lane.name }) as const)
      : []),
  ];
  const make = async (close: () => void) => {
    setAsking(true);
    try {
      await askForMixes(hand.id, {
        outcomes,
        format,
        sampleRate,
        isSaved: true,
        packId: await packOfChoice(pack, hand.state.name),
        asSet: wanted.lanes && asSet && sounding.length > 1,
      });
      toast.success(
        `${outcomes.length === 1 ? 'It is' : `${outcomes.length} are`} being made; what is done comes onto the Shelf.`,
      );
      close();
    } catch (error) {
      toast.error((error as Error).message);
    } finally {
      setAsking(false);
    }
  };
  const box = (name: keyof typeof wanted, words: string) => (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        checked={wanted[name]}
        onChange={(event) => setWanted({ ...wanted, [name]: event.target.checked })}
      />
      {words}
    </label>
  );
  return (
    <Popover className="relative">
      <PopoverButton
        onMouseDown={keepKeysFree}
        disabled={sounding.length === 0}
        className="inline-flex h-7 items-center gap-1.5 border border-ink bg-ink px-2.5 font-semibold text-paper hover:bg-ink-soft disabled:opacity-45"
      >
        What comes out …
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'bottom end', gap: 4 }}
        className="z-30 w-80 space-y-2 border border-ink bg-paper p-3 text-small"
      >
        {({ close }) => (
          <>
            {box('mix', 'the mix')}
            {box('lanes', `each lane from bar 1, ${sounding.length} of one length`)}
            {wanted.lanes && sounding.length > 1 && (
              <label className="ml-5 flex items-center gap-2">
                <input type="checkbox" checked={asSet} onChange={(event) => setSet(event.target.checked)} />
                as a stem set
              </label>
            )}
            {box('click', 'the click, with a count-in of')}
            {wanted.click && (
              <select
                aria-label="Count-in of the click"
                className={`${fieldClass} ml-5`}
                value={countInBars}
                onChange={(event) => setCountIn(Number(event.target.value))}
              >
                {[0, 1, 2, 4].map((bars) => (
                  <option key={bars} value={bars}>
                    {bars === 0 ? 'none' : bars === 1 ? '1 bar' : `${bars} bars`}
                  </option>
                ))}
              </select>
            )}
            <IntoPack className="w-full" value={pack} onChange={setPack} />
            <div className="flex gap-2">
              <FormatSelect value={format} onChange={setFormat} />
              <RateSelect value={sampleRate} own={null} onChange={(rate) => rate !== null && setRate(rate)} />
              <Button
                tone="strong"
                className="ml-auto"
                disabled={outcomes.length === 0 || isAsking}
                onClick={() => void make(close)}
              >
                Make {outcomes.length > 1 ? `all ${outcomes.length}` : 'it'}
              </Button>
            </div>
            <p className="text-tiny text-ink-soft">
              Made by the server with what is heard here, measured again, and put onto the Shelf. What would
              clip is made quieter, mix and lanes alike.
            </p>
            <a
              href={tempoMapUrl(hand.id)}
              download
              className="inline-flex h-7 items-center gap-1.5 border border-rule-strong px-2 hover:bg-wash-ink"
            >
              <Download className="size-3.5" aria-hidden /> Tempo map (MIDI)
            </a>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}
