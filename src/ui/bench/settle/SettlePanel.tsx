'use client';
import type { KeyReadingValue } from '@/core/readings/reading';
import { feltBeatsPerBar, type Meter } from '@/core/rhythm/grid';
import { Button } from '../../kit/Button';
import { keyText, signedText } from '@/words/figures';
import { oneMovedTo, oneOnBeat, tapsTaken, tempoScaled, tempoTyped, type GridMove } from '../gridMoves';
import { placeOfPlayhead } from '../snapping';
import { firstSoundOf } from './SettledHead';
import { TapLine } from './TapLine';
import { WholeNumber } from './WholeNumber';
import { KeySelect } from '../../kit/KeySelect';
import { Select } from '../../kit/Select';
import { useHint } from '../../kit/shortcuts';
import { GRID } from '../../shortcuts/shortcutTables';
import { useBenchModel } from '../useBenchModel';

const METERS = ['2/4', '3/4', '4/4', '5/4', '6/4', '7/4', '3/8', '5/8', '6/8', '7/8', '9/8', '12/8'];
const meterText = ({ beatsPerBar, beatUnit }: Meter) => `${beatsPerBar}/${beatUnit}`;

const RATIOS: { ratio: number; text: string; title: string }[] = [
  { ratio: 0.5, text: 'Half', title: 'Half the tempo' },
  { ratio: 2, text: 'Double', title: 'Double the tempo' },
  { ratio: 2 / 3, text: '×⅔', title: 'Three beats become two' },
  { ratio: 1.5, text: '×3⁄2', title: 'Two beats become three' },
  { ratio: 0.75, text: '×¾', title: 'Four beats become three' },
  { ratio: 4 / 3, text: '×4⁄3', title: 'Three beats become four' },
];

/** Changes the values in use by number and by tapping. */
export function SettlePanel() {
  const { bench, taps, lean, settling } = useBenchModel();
  const onMove = settling.settle;
  const { entry, grid, shown } = bench;
  const duration = entry.summary.durationSeconds ?? 0;
  const firstSound = firstSoundOf(bench);
  return (
    <div className="space-y-2 border-b border-rule-strong pb-3">
      <div className="flex gap-1">
        {RATIOS.map(({ ratio, text, title }) => (
          <Button
            key={text}
            className="flex-1 px-1"
            disabled={!shown}
            title={title}
            onClick={() => {
              const now = bench.now().shown;
              if (now) onMove(tempoScaled(now, ratio, text.toLowerCase()));
            }}
          >
            {text}
          </Button>
        ))}
      </div>
      {shown && !shown.grid.movingBeats && (
        <WholeNumber
          grid={shown.grid}
          durationSeconds={duration}
          uprightBpm={lean?.uprightBpm ?? null}
          onTake={(bpm) => onMove(tempoTyped(bench.now().shown, bpm, 0))}
        />
      )}
      <TapLine
        taps={taps}
        bpm={grid?.tempoBpm ?? null}
        onTake={() => {
          if (!taps.estimate) return;
          onMove(tapsTaken(bench.now().shown, taps.estimate, firstSound, taps.placesOne));
          taps.clear();
        }}
      />
      <div className="grid grid-cols-[5.4rem_1fr] items-center gap-y-1.5 text-small">
        <OneLine />
        <MeterLine />
        <KeyLine />
      </div>
    </div>
  );
}

function OneLine() {
  const { bench, snap, settling } = useBenchModel();
  const hint = useHint();
  const onMove = settling.settle;
  const { shown, audio } = bench;
  const move = (run: (from: NonNullable<typeof shown>) => GridMove) => () => {
    const now = bench.now().shown;
    if (now) onMove(run(now));
  };
  const sampleMs = audio ? 1000 / audio.sampleRate : null;
  return (
    <>
      <span className="text-ink-soft">The one</span>
      <div className="flex items-center gap-0.5">
        <span className="mr-1 text-tiny text-ink-soft">ms</span>
        {[-1, -0.1, 0.1, 1].map((ms) => (
          <Button
            key={ms}
            className="w-8 px-0"
            disabled={!shown}
            aria-label={`The one ${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`}
            title={`${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`}
            onClick={move((from) => oneMovedTo(from, from.grid.one + ms / 1000))}
          >
            <span className="figures text-tiny">{signedText(ms, Math.abs(ms) < 1 ? 1 : 0, '').trim()}</span>
          </Button>
        ))}
        <Button
          className="ml-auto px-1.5"
          disabled={!shown || !audio}
          title={hint(GRID.oneHere)}
          onClick={move((from) => oneMovedTo(from, placeOfPlayhead(bench, snap)))}
        >
          At playhead
        </Button>
      </div>
      <span />
      <div className="flex items-center gap-0.5">
        <span className="mr-1 text-tiny text-ink-soft">by beat</span>
        {[-1, 1].map((beats) => (
          <Button
            key={beats}
            small
            className="w-8 px-0!"
            disabled={!shown}
            aria-label={`Move the one a beat ${beats < 0 ? 'before' : 'after'}`}
            title={hint(beats < 0 ? GRID.onePreviousBeat : GRID.oneNextBeat)}
            onClick={move((from) => oneOnBeat(from, beats))}
          >
            {beats < 0 ? '‹' : '›'}
          </Button>
        ))}
        <span className="mr-1 ml-2 text-tiny text-ink-soft">by sample</span>
        {[-1, 1].map((samples) => (
          <Button
            key={samples}
            small
            className="w-8 px-0!"
            disabled={!shown || !sampleMs}
            aria-label={`Move the one a sample ${samples < 0 ? 'earlier' : 'later'}`}
            title={hint(
              samples < 0 ? GRID.earlierSample : GRID.laterSample,
              `Move the one by one sample of the file`,
            )}
            onClick={move((from) => oneMovedTo(from, from.grid.one + (samples * sampleMs!) / 1000))}
          >
            {samples < 0 ? '‹' : '›'}
          </Button>
        ))}
      </div>
    </>
  );
}

function MeterLine() {
  const { grid, settle, now } = useBenchModel().bench;
  return (
    <>
      <span className="text-ink-soft">Time signature</span>
      <div className="flex items-center gap-2">
        <Select
          label="Time signature"
          className="w-20"
          disabled={!grid}
          placeholder="–"
          value={grid ? meterText(grid.meter) : undefined}
          options={METERS}
          onChange={(text) => {
            const [beatsPerBar, beatUnit] = text.split('/').map(Number);
            const before = now().grid;
            if (!before) return;
            settle({ grid: { ...before, meter: { beatsPerBar, beatUnit } } }, `time signature ${text}`, {
              property: 'meter',
              value: { beatsPerBar, beatUnit },
              source: 'typed',
              sureness: 0.95,
              detail: 'chosen on the Bench',
            });
          }}
        />
        {grid && feltBeatsPerBar(grid.meter) !== grid.meter.beatsPerBar && (
          <span className="text-tiny text-ink-soft">
            counted in {feltBeatsPerBar(grid.meter)}, one beat is a dotted quarter
          </span>
        )}
      </div>
    </>
  );
}

function KeyLine() {
  const { entry, settle } = useBenchModel().bench;
  const { settled } = entry;
  return (
    <>
      <span className="text-ink-soft">Key</span>
      <div className="flex items-center gap-2">
        <KeySelect
          label="Key"
          className="w-32"
          none="no key"
          placeholder={settled.key ? undefined : 'not set'}
          value={settled.key && 'tonic' in settled.key ? settled.key : null}
          onChange={(key) => {
            const value: KeyReadingValue = key ?? { none: true };
            settle({ key: value }, `key ${keyText(value)}`, {
              property: 'key',
              value,
              source: 'typed',
              sureness: 0.95,
              detail: 'chosen on the Bench',
            });
          }}
        />
        {settled.tuningCents !== null && (
          <span className="figures text-ink-soft">tuning {signedText(settled.tuningCents, 0, 'cents')}</span>
        )}
      </div>
    </>
  );
}
