'use client';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { barsText } from '@/words/figures';
import { plural } from '@/words/plural';
import type { MixExport } from '@/contract/mix';
import type { AudioWriteFormat } from '@/core/recipes/recipe';
import { extentOf } from '@/library/blend/extent';
import { heardOf } from '@/library/blend/hearing';
import { askForMixes, tempoMapUrl } from '../api/blends';
import { Button, buttonClass } from '../kit/Button';
import { Checkbox } from '../kit/Checkbox';
import { Popup } from '../kit/Popup';
import { Select } from '../kit/Select';
import { useAction } from '../kit/useAction';
import { awaitMade } from '../tasks/made';
import { FormatSelect, RateSelect } from '../kit/WriteSelects';
import { IntoPack, packOfChoice } from '../packs/IntoPack';
import type { BlendEditor } from './useBlend';
import type { Scored } from './useScore';

interface Props {
  editor: BlendEditor;
  scored: Scored;
}

/** Exports of a blend: mix, lanes from the start, click, tempo map. */
export function ExportPopup({ editor, scored }: Props) {
  return (
    <Popup button="Export…" tone="strong" disabled={heardOf(scored.score).length === 0} width="w-80">
      {(close) => <ExportForm editor={editor} scored={scored} onDone={close} />}
    </Popup>
  );
}

function ExportForm({ editor, scored: { score }, onDone }: Props & { onDone: () => void }) {
  const [wanted, setWanted] = useState({ mix: true, lanes: false, click: false });
  const [countInBars, setCountIn] = useState<0 | 1 | 2 | 4>(1);
  const [format, setFormat] = useState<AudioWriteFormat>('wav 24');
  const [sampleRate, setRate] = useState<number>(44_100);
  const [asSet, setSet] = useState(true);
  const [pack, setPack] = useState('none');
  const sounding = heardOf(score);
  const silent = score.lanes.filter(({ parts }) => parts.length > 0).length - sounding.length;
  const { barsBefore, from } = extentOf(score);
  const outcomes: MixExport[] = [
    ...(wanted.mix ? [{ what: 'mix' } as const] : []),
    ...(wanted.click ? [{ what: 'click', countInBars } as const] : []),
    ...(wanted.lanes
      ? sounding.map(({ lane }) => ({ what: 'lane', laneId: lane.laneId, name: lane.name }) as const)
      : []),
  ];
  const send = useAction({
    run: async () =>
      askForMixes(editor.id, {
        ...{ outcomes, format, sampleRate, isSaved: true },
        packId: await packOfChoice(pack, editor.state.name),
        asSet: wanted.lanes && asSet && sounding.length > 1,
      }),
    then: ({ taskId }) => {
      awaitMade({ taskId, place: `blend ${editor.id}`, then: null });
      onDone();
    },
  });
  const box = (name: keyof typeof wanted, label: string) => (
    <Checkbox label={label} value={wanted[name]} onValue={(isOn) => setWanted({ ...wanted, [name]: isOn })} />
  );
  return (
    <>
      {box('mix', 'mix')}
      {box('lanes', `each lane, ${sounding.length} all of one length, from the start of the blend`)}
      {wanted.lanes && (silent > 0 || barsBefore > 0) && (
        <p className="ml-5 text-tiny text-ink-soft">
          {silent > 0 &&
            `${silent} muted ${plural(silent, 'lane is', 'lanes are')} left out: the exported lanes add up to the mix. `}
          {barsBefore > 0 &&
            `There is a pickup: every file begins ${barsText(barsBefore)} before bar 1, which is at ${(-from).toFixed(3)} s; cue points and tags mark it.`}
        </p>
      )}
      {wanted.lanes && sounding.length > 1 && (
        <Checkbox className="ml-5" label="as a stem set" value={asSet} onValue={setSet} />
      )}
      {box('click', 'click, with a count-in')}
      {wanted.click && (
        <Select
          label="Count-in of the click"
          className="ml-5"
          value={countInBars}
          options={[0, 1, 2, 4] as const}
          text={(bars) => (bars === 0 ? 'none' : barsText(bars))}
          onChange={setCountIn}
        />
      )}
      <IntoPack className="w-full" value={pack} onChange={setPack} />
      <div className="flex gap-2">
        <FormatSelect value={format} onChange={setFormat} />
        <RateSelect value={sampleRate} own={null} onChange={(rate) => rate !== null && setRate(rate)} />
        <Button
          tone="strong"
          className="ml-auto"
          disabled={outcomes.length === 0 || send.isBusy}
          onClick={() => send.act()}
        >
          Export{outcomes.length > 1 && ` all ${outcomes.length}`}
        </Button>
      </div>
      <p className="text-tiny text-ink-soft">
        The server renders exactly what you hear, measures it and saves it to the Shelf. If it would clip, mix
        and lanes are lowered by the same amount.
      </p>
      <a href={tempoMapUrl(editor.id)} download className={buttonClass()}>
        <Download className="size-3.5" aria-hidden /> Tempo map (MIDI)
      </a>
    </>
  );
}
