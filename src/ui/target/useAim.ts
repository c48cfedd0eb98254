'use client';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { planOfEntry, planOfMeasurement } from '@/library/samples/aims';
import { swingOf } from '@/core/playing/drumPattern';
import { entryQuery } from '../api/useEntry';
import { placeOf } from '../audio/decodedAudio';
import { PREPARED_UP_TO, type Aimed } from '../audio/openFit';
import { engine } from '../audio/engine';
import { sayInAddress } from '../kit/address';
import { useStable } from '../kit/useStable';
import { heardOf } from './heardOf';
import { aimOf, paramsOf, targetNow, typeTarget, useTarget, type TargetState } from './target';

interface Row {
  sampleId: string;
  durationSeconds: number | null;
}

/** How samples are played: at the target where there is one, each as it was recorded otherwise. */
export interface Aim {
  /** Lets it sound, from a place in it (seconds); `keepsOthers`: what sounds goes on beside it. */
  play: (row: Row, from?: number, keepsOthers?: boolean) => Promise<void>;
  /** The same, or stops it where it sounds. */
  toggle: (row: Row, from?: number) => void;
  /** What was asked for and does not sound yet is asked for again, at the target of now. False where nothing was. */
  askAgain: () => boolean;
  /** It may be asked for next. */
  prepare: (rows: readonly (Row | null)[]) => void;
}

interface AimedEntry extends Aimed {
  /** Where in a beat its second half stands, as it was measured. */
  swing: number;
}

async function aimed(queries: QueryClient, row: Row, target: TargetState): Promise<AimedEntry | null> {
  const { sampleId } = row;
  const place = placeOf(sampleId);
  if (place) {
    const measurement = await heardOf(sampleId, place);
    if (!measurement) return null;
    const plan = planOfMeasurement(measurement, aimOf(target));
    const { durationSeconds } = measurement;
    return { sampleId, durationSeconds, plan, swing: swingOf(measurement) };
  }
  const entry = await queries.fetchQuery({ ...entryQuery(sampleId), staleTime: 10_000 });
  const plan = planOfEntry(entry, aimOf(target));
  const { durationSeconds } = entry.summary;
  return plan && { sampleId, durationSeconds, plan, swing: swingOf(entry.measurement) };
}

/** How samples are played, with what was asked for and does not sound yet. */
function makeAim(queries: QueryClient, targetNow: () => TargetState): Aim {
  let asked = 0;
  let waiting: Parameters<Aim['play']> | null = null;
  const play: Aim['play'] = async (row, from = 0, keepsOthers = false) => {
    const mine = ++asked;
    waiting = [row, from, keepsOthers];
    const now = targetNow();
    const next = now.isOn ? await aimed(queries, row, now).catch(() => null) : null;
    if (mine !== asked) return;
    // What cannot be aimed at is at least heard.
    if (!next) {
      waiting = null;
      return engine.playAlone(row.sampleId, from, row.durationSeconds);
    }
    const clock = now.tempoBpm && {
      ...{ tempoBpm: now.tempoBpm, one: next.plan.one, movingBeats: null },
      meter: { beatsPerBar: 4, beatUnit: 4 },
    };
    engine.setClick({ swing: next.swing });
    await engine.playAtTarget({ ...next, clock: clock || null, handOver: now.handOver, keepsOthers }, from);
    if (mine === asked) waiting = null;
  };
  const toggle: Aim['toggle'] = (row, from) => {
    const { sampleId, status, beside } = engine.getState();
    const isPlaying = status === 'playing';
    if (isPlaying && beside.length > 0 && [sampleId, ...beside].includes(row.sampleId))
      return engine.target.leave(row.sampleId);
    // What sounds as it was recorded is brought to the target first.
    const isAimed = !targetNow().isOn || engine.atTarget.includes(row.sampleId);
    if (sampleId !== row.sampleId || !isPlaying || !isAimed) return void play(row, from);
    asked++;
    waiting = null;
    engine.stop();
  };
  const askAgain = () => {
    if (waiting) void play(...waiting);
    return waiting !== null;
  };
  const prepare: Aim['prepare'] = (rows) => {
    const now = targetNow();
    if (!now.isOn) return;
    const short = rows.filter((row) => row && (row.durationSeconds ?? Infinity) <= PREPARED_UP_TO);
    void Promise.all(short.map((row) => aimed(queries, row!, now).catch(() => null))).then((all) =>
      engine.target.prepare(all.filter((one) => one !== null)),
    );
  };
  return { play, toggle, askAgain, prepare };
}

interface Aiming {
  /** The address of the screen says the target. */
  isSaid?: boolean;
  /** The screen has a click of its own. */
  hasClick?: boolean;
  /** The screen has a target of its own. */
  own?: TargetState | null;
}

/** Plays at the target; when that changes, what sounds goes on at the new one. */
export function useAim({ isSaid = false, hasClick = false, own = null }: Aiming = {}): Aim {
  const queries = useQueryClient();
  const common = useTarget();
  const target = own ?? common;
  useAddress(target, isSaid);
  const ownNow = useStable(() => own);
  const aim = useMemo(() => makeAim(queries, () => ownNow() ?? targetNow()), [queries, ownNow]);
  const along = hasClick ? 'own' : target.along;
  useEffect(() => engine.runAlong(along), [along]);
  const before = useRef(target);
  useEffect(() => {
    const was = before.current;
    before.current = target;
    if (paramsOf(was).toString() === paramsOf(target).toString()) return;
    if (aim.askAgain()) return;
    const { sampleId, status } = engine.getState();
    if (status !== 'playing' || !sampleId) return;
    if (was.isOn && target.isOn) {
      const sounding = engine.atTarget.map((id) => ({ sampleId: id, durationSeconds: null }));
      let isWanted = true;
      void Promise.all(sounding.map((row) => aimed(queries, row, target).catch(() => null))).then((all) => {
        if (isWanted)
          void engine.target.retarget(new Map(all.flatMap((one) => (one ? [[one.sampleId, one]] : []))));
      });
      return () => void (isWanted = false);
    }
    // Off and on again: it goes on from where it is.
    void aim.play({ sampleId, durationSeconds: null }, engine.position());
  }, [target, aim, queries]);
  return aim;
}

/** Plays at the target, or stops; without one the field where it is typed gets the keyboard. */
export function atTarget(aim: Aim, row: Row, from = 0) {
  if (targetNow().isOn) return aim.toggle(row, from);
  typeTarget();
}

/** The address says the target, so that it can be kept and handed on. */
function useAddress(target: TargetState, isSaid: boolean) {
  useEffect(() => {
    if (!isSaid) return;
    sayInAddress(['tempo', 'key', 'tape', 'from'], paramsOf(target));
  }, [target, isSaid]);
}
