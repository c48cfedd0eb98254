import { messageOf } from '@/library/blend/hearing';
import type { MixerCommand } from '@/core/playing/commands';
import type { Hearing } from '@/core/playing/voice';
import { beatPosition, beatTime, sameGrid } from '@/core/rhythm/grid';
import { laterBy } from '@/core/timeStretch/plan';
import { PREPARED_UP_TO, type FitCache } from './openFit';
import { canBeHeard, isHeard, laneOf, untilHeard, type Ruler, type RulerVoice, type Sounding } from './ruler';
import type { Stage } from './stage';

/** What is told takes so long to reach the audio thread at most, seconds. */
const ON_ITS_WAY = 0.06;
/** It is there sooner as a rule, and whoever comes in waits for nobody: told too late it begins a block later. */
const JOINS_IN = 0.025;
/** So much of what is to be heard is made before it begins, seconds. */
const SPARE = 0.1;
/** So much is fitted before it is played, seconds of samples. */
const PREPARED_IN_ALL = 300;
/** What was handed over from is taken away when it has faded, frames. */
const FADED = 1024;

/**
 * The lanes of a blend on one clock: they start together on the frame, and everything can be changed while they sound. What is
 * changed is made beside what sounds and takes its place at one frame; when the tempo changes, all go on from the beat where they are.
 */
export class OnRuler {
  private ruler: Ruler | null = null;
  private sounding = new Map<string, Sounding>();
  /** What will be asked for, held until something else will be. */
  private prepared = new Map<string, Sounding>();
  /** Frame of the clock on which bar 1 begins. */
  private origin = 0;
  private count = 0;
  /** The latest thing that was asked: what was asked before and is not there yet is not wanted any more. */
  private asked = 0;

  constructor(
    private readonly stage: Stage,
    private readonly fits: FitCache,
  ) {}

  get isOn(): boolean {
    return this.ruler !== null;
  }

  /** The place on the ruler that is heard at a frame of the clock, seconds. */
  placeAt(frame: number): number {
    return (this.wrapped(frame) - this.origin) / this.stage.rate();
  }

  /**
   * Starts all together at a place, with nothing but the click from `begin` up to it. Resolves when they were started, or are not
   * wanted any more.
   */
  async play(ruler: Ruler, from: number, begin = from): Promise<void> {
    const asked = ++this.asked;
    const rate = this.stage.rate();
    const sounding = this.taken(ruler.voices);
    const soon = [...sounding.values()].filter(({ voice }) => isHeard(voice, from, from + SPARE));
    const there = await Promise.all(soon.map((one) => untilHeard(one, from, rate)));
    if (asked !== this.asked) return this.giveBack(sounding);
    const fault = soon.find((_, i) => !there[i])?.fit.fault;
    if (fault) this.stage.fault(fault);
    this.clear();
    this.ruler = ruler;
    this.sounding = sounding;
    this.origin = 0;
    this.arrangeAll();
    for (const one of sounding.values()) {
      const { voice, fit } = one;
      if (soon.includes(one) ? fit.fault === null : fit.isWhole) this.put(one, voice.hearing);
      else void this.join(one);
    }
    this.putEnd();
    this.stage.looksAt(ruler.id, []);
    this.stage.startAt(Math.round(begin * rate), begin < from ? Math.round(from * rate) : undefined);
  }

  /** This ruler may be played next (null: none): what is not long is fitted by then, as far as it is not very much. */
  prepare(ruler: Ruler | null) {
    const before = this.prepared;
    let room = PREPARED_IN_ALL;
    const voices = (ruler?.voices ?? []).filter(({ durationSeconds }) => {
      const isShort = durationSeconds !== null && durationSeconds <= Math.min(PREPARED_UP_TO, room);
      if (isShort) room -= durationSeconds;
      return isShort;
    });
    this.prepared = this.taken(voices);
    this.giveBack(before);
  }

  /** All go on as another ruler says, from the beat where they are. */
  async change(ruler: Ruler): Promise<void> {
    const before = this.ruler;
    if (!before || this.stage.now() === null) return;
    const asked = ++this.asked;
    const rate = this.stage.rate();
    const isGridSame = sameGrid(before.grid, ruler.grid);
    const next = this.taken(ruler.voices);
    const isSame = ({ voice, fit }: Sounding) => {
      const old = this.sounding.get(voice.key);
      return (
        isGridSame &&
        old?.id != null &&
        old.fit === fit &&
        old.voice.part.start === voice.part.start &&
        old.voice.part.until === voice.part.until &&
        old.voice.part.isLooping === voice.part.isLooping
      );
    };
    const changed = [...next.values()].filter((one) => !isSame(one));
    // What takes the place of something that sounds has to be there; an incoming sample comes as soon as it can.
    const lanes = new Set([...this.sounding.values()].map(({ voice }) => laneOf(voice)));
    const going = changed.filter(({ voice }) => lanes.has(laneOf(voice)));
    const placeIn = (frame: number) =>
      isGridSame
        ? (frame - this.origin) / rate
        : beatTime(ruler.grid, beatPosition(before.grid, (frame - this.origin) / rate));
    let heard: Sounding[] = [];
    for (let isThere = false; !isThere;) {
      const place = placeIn(this.ahead(2 * ON_ITS_WAY));
      heard = going.filter(({ voice }) => isHeard(voice, place, place + SPARE));
      const ready = await Promise.all(heard.map((one) => untilHeard(one, place, rate)));
      if (asked !== this.asked || this.stage.now() === null) return this.giveBack(next);
      const fault = heard.find((_, i) => !ready[i])?.fit.fault;
      if (fault) this.stage.fault(fault);
      const later = placeIn(this.ahead(2 * ON_ITS_WAY));
      isThere = heard.every((one) => one.fit.fault !== null || canBeHeard(one, later, rate));
    }
    const frame = Math.round(this.ahead(ON_ITS_WAY));
    if (!isGridSame) this.origin = Math.round(frame - placeIn(frame) * rate);
    const old = this.sounding;
    this.sounding = next;
    this.ruler = ruler;
    for (const one of next.values()) {
      const was = old.get(one.voice.key);
      if (!changed.includes(one) && was) {
        one.id = was.id;
        if (was.id && JSON.stringify(was.voice.hearing) !== JSON.stringify(one.voice.hearing))
          this.stage.tell({ kind: 'hear', id: was.id, hearing: one.voice.hearing });
        continue;
      }
      if (heard.includes(one) && one.fit.fault === null) this.takeOver(one, frame);
      else void this.join(one);
    }
    const kept = new Set([...next.values()].map(({ id }) => id));
    for (const { id } of old.values()) if (id && !kept.has(id)) this.end(id, frame);
    this.arrangeAll(isGridSame ? undefined : frame);
    this.putEnd();
    this.giveBack(old);
  }

  /** Nothing sounds on a ruler any more. */
  clear() {
    this.giveBack(this.sounding);
    this.sounding = new Map();
    this.ruler = null;
    this.stage.tell({ kind: 'clear' });
  }

  /** What is asked for and not there yet is not wanted any more. */
  forget() {
    this.asked++;
  }

  /** Has more made of what is played, as it goes on. */
  keepUp(frame: number) {
    const place = this.placeAt(frame);
    const rate = this.stage.rate();
    for (const { fit, voice } of this.sounding.values())
      if (!fit.isWhole && !voice.part.isLooping) fit.want((place - voice.part.start + 2) * rate);
  }

  private taken(voices: readonly RulerVoice[]): Map<string, Sounding> {
    return new Map(
      voices.map((voice) => {
        const { sampleId, durationSeconds, part } = voice;
        return [
          voice.key,
          { voice, fit: this.fits.take({ sampleId, durationSeconds, plan: part.plan }), id: null },
        ];
      }),
    );
  }

  private giveBack(all: ReadonlyMap<string, Sounding>) {
    for (const { fit } of all.values()) this.fits.giveBack(fit);
  }

  /** Puts a voice on the clock; `hearing`: how it is heard from its beginning. */
  private put(one: Sounding, hearing: Hearing) {
    const { fit, voice } = one;
    if (!fit.channels) return;
    one.id = `ruler ${++this.count}`;
    this.stage.tell(
      messageOf(voice.part, one.id, fit.channels, { rate: this.stage.rate(), origin: this.origin, hearing }),
    );
  }

  /** The same, heard from a frame on. */
  private takeOver(one: Sounding, frame: number) {
    const { voice } = one;
    const start = this.origin + voice.part.start * this.stage.rate();
    if (start >= frame) return this.put(one, voice.hearing);
    this.put(one, { ...voice.hearing, muted: true });
    if (one.id)
      this.stage.tell({
        kind: 'at',
        frame,
        commands: [{ kind: 'hear', id: one.id, hearing: voice.hearing }],
      });
  }

  /** A voice that is not there yet is heard as soon as it can be. */
  private async join(one: Sounding) {
    const rate = this.stage.rate();
    const isWanted = () => this.sounding.get(one.voice.key) === one;
    for (;;) {
      const place = this.placeAt(this.ahead(2 * ON_ITS_WAY));
      if (!(await untilHeard(one, place, rate))) {
        if (isWanted() && one.fit.fault) this.stage.fault(one.fit.fault);
        return;
      }
      if (!isWanted()) return;
      const later = this.placeAt(this.ahead(2 * ON_ITS_WAY));
      if (!canBeHeard(one, later, rate)) continue;
      // Not heard from a place that the clock has not come to: it is told before that.
      return this.takeOver(one, Math.round(this.ahead(JOINS_IN)));
    }
  }

  private end(id: string, frame: number) {
    this.stage.tell({ kind: 'at', frame, commands: [{ kind: 'hear', id, hearing: SILENT }] });
    this.stage.tell({ kind: 'at', frame: frame + FADED, commands: [{ kind: 'take', id }] });
  }

  /** Bars, beats and what loops, now or from a frame on. */
  private arrangeAll(frame?: number) {
    const { grid, round } = this.ruler!;
    const rate = this.stage.rate();
    const at = (seconds: number) => Math.round(this.origin + seconds * rate);
    const commands: MixerCommand[] = [
      { kind: 'grid', grid: laterBy(grid, this.origin / rate) },
      { kind: 'legs', segments: round ? [{ start: at(round.from), end: at(round.to), joins: true }] : [] },
    ];
    if (frame === undefined) for (const one of commands) this.stage.tell(one);
    else this.stage.tell({ kind: 'at', frame, commands });
  }

  /** The clock goes to the end of the last bar, however soon the last voice has ended. */
  private putEnd() {
    const until = Math.round(this.origin + this.ruler!.seconds * this.stage.rate());
    const channels = [new Float32Array(1)];
    this.stage.tell({
      kind: 'put',
      id: 'ruler end',
      channels,
      from: 0,
      to: 1,
      start: until - 1,
      hearing: SILENT,
    });
  }

  /** The frame of the clock so many seconds from now, round what loops. */
  private ahead(seconds: number): number {
    return this.wrapped((this.stage.now() ?? 0) + seconds * this.stage.rate());
  }

  private wrapped(frame: number): number {
    const round = this.ruler?.round;
    if (!round) return frame;
    const rate = this.stage.rate();
    const [start, end] = [this.origin + round.from * rate, this.origin + round.to * rate];
    return frame < end || end <= start ? frame : start + ((frame - start) % (end - start));
  }
}

const SILENT: Hearing = { level: 0, pan: 0, muted: true };
