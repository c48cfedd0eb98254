import { begunAt, heardAt, laterBy, type Plan } from '@/core/timeStretch/plan';
import { toResult } from '@/core/timeStretch/timeMap';
import type { MixerCommand } from '@/core/playing/commands';
import { AS_RECORDED, GLIDE_FRAMES, type Hearing } from '@/core/playing/voice';
import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Aimed, FitCache, OpenFit } from './openFit';
import type { Stage } from './stage';

/** When a sample begins beside those that sound. */
export const HAND_OVERS = ['beat', 'bar'] as const;
export type HandOver = (typeof HAND_OVERS)[number];

export interface AimedPlay extends Aimed {
  /** The grid that the clock gets while nothing else has one: that of the target. */
  clock: Grid | null;
  handOver: HandOver;
  /** What sounds goes on beside it. */
  keepsOthers: boolean;
}

/** One fitted sample on the clock. Frames are those of the clock. */
interface Sounding {
  id: string;
  aimed: Aimed;
  fit: OpenFit;
  /** Frame of the clock at which its result begins. */
  start: number;
  /** From here on it is what is looked at, until another is. */
  since: number;
  /** It is heard no longer than this. */
  until: number;
}

/** What is told takes so long to reach the audio thread at most, seconds. */
const ON_ITS_WAY = 0.08;
/** So much of what is to be heard is made before it begins, seconds. */
const SPARE = 0.12;
const SILENT: Hearing = { ...AS_RECORDED, muted: true };
/** What was handed over from is taken away when it has faded, frames. */
const FADED = 1024;

/**
 * Samples that sound at a target, on one clock: each begins on a beat or a bar of what sounds, its pickup before it, and
 * hands over to the next without a hole. When the target changes, all go on at the new one from where they are.
 */
export class AtTarget {
  private sounding: Sounding[] = [];
  private grid: Grid | null = null;
  private isClicking = false;
  private count = 0;
  /** The latest thing that was asked: what was asked before and is not there yet is not wanted any more. */
  private asked = 0;
  /** What may be asked for next. */
  private prepared: OpenFit[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly stage: Stage,
    private readonly fits: FitCache,
  ) {}

  /** Whether the clock is a target's. */
  get isOn(): boolean {
    return this.sounding.length > 0;
  }

  /** What is looked at now. */
  private at(frame: number): Sounding | null {
    return this.sounding.findLast(({ since }) => since <= frame) ?? this.sounding[0] ?? null;
  }

  /** The place of the sample that is heard at a frame of the clock, seconds. */
  placeAt(frame: number): number {
    const one = this.at(frame);
    return one ? Math.max(0, heardAt(one.aimed.plan, (frame - one.start) / this.stage.rate())) : 0;
  }

  /** Those that sound or are about to. */
  get sampleIds(): string[] {
    return this.sounding.filter(({ until }) => until === Infinity).map(({ aimed }) => aimed.sampleId);
  }

  /** Lets a sample sound; `from`: a place in it, seconds. Resolves when it has been handed to the audio thread, or is not wanted any more. */
  async play(wanted: AimedPlay, from = 0): Promise<void> {
    const asked = ++this.asked;
    const rate = this.stage.rate();
    const aimed = from > 0 ? { ...wanted, plan: begunAtBar(wanted.plan, from) } : wanted;
    const { plan } = aimed;
    const fit = this.fits.take(aimed);
    // Where in its result it begins: at its one, or with the bar of a round that the place is in.
    const begins = plan.loops && from > 0 ? barBefore(plan, from) : plan.one;
    const ready = await fit.until(Math.ceil((begins + SPARE) * rate));
    if (asked !== this.asked || !ready) {
      if (asked === this.asked && fit.fault) this.stage.fault(fit.fault);
      return this.fits.giveBack(fit);
    }
    const grid = plan.grid ?? wanted.clock;
    const now = this.stage.now();
    const one = { id: `target ${++this.count}`, aimed, fit, until: Infinity };
    if (now === null || !this.isOn) {
      this.clear();
      this.arrange(grid && laterBy(grid, -begins));
      this.put({ ...one, start: -Math.round(begins * rate), since: -Infinity }, AS_RECORDED);
      this.stage.looksAt(aimed.sampleId, []);
      return this.stage.startAt(-Math.round(plan.pickup * rate));
    }
    this.forgetEnded(now);
    const soonest = now / rate + ON_ITS_WAY;
    const at = this.nextTurn(soonest, wanted.handOver);
    const [frame, start] = [Math.round(at * rate), Math.round((at - begins) * rate)];
    const heardFrom = Math.max(Math.round(soonest * rate), frame - Math.round(plan.pickup * rate));
    // What begins by itself needs no fade, which its first hit would be lost in; the rest of it comes in before that.
    this.put({ ...one, start, since: frame }, start >= heardFrom ? AS_RECORDED : SILENT);
    if (start < heardFrom)
      this.stage.tell({
        kind: 'at',
        frame: heardFrom - GLIDE_FRAMES,
        commands: [{ kind: 'hear', id: one.id, hearing: AS_RECORDED }],
      });
    if (!wanted.keepsOthers)
      for (const other of this.sounding) if (other.id !== one.id) this.end(other, frame - GLIDE_FRAMES);
    if (plan.grid) this.arrange(laterBy(plan.grid, at - begins), frame);
    this.lookAt(aimed.sampleId, (frame - now) / rate);
  }

  /** All that sound go on by other plans, from where they are. `aimed`: of each sample; what has none stays as it is. */
  async retarget(aimed: ReadonlyMap<string, Aimed>): Promise<void> {
    const now = this.stage.now();
    if (now === null) return;
    const asked = ++this.asked;
    const rate = this.stage.rate();
    const goingOn = this.sounding.filter(({ until }) => until === Infinity);
    const changes = goingOn.flatMap((old) => {
      const next = aimed.get(old.aimed.sampleId);
      if (!next) return [];
      // What is played through is fitted from here on.
      const plan = begunAt(next.plan, placeIn(next.plan, old, now, rate) - SPARE);
      return [{ old, aimed: { ...next, plan }, fit: this.fits.take({ ...next, plan }) }];
    });
    for (const { old, aimed: next, fit } of changes)
      for (let isMade = false; !isMade;) {
        const soon = (this.stage.now() ?? now) + 2 * ON_ITS_WAY * rate;
        const place = placeIn(next.plan, old, soon, rate) + SPARE;
        const frames = Math.ceil(Math.min(next.plan.seconds, place) * rate);
        const ready = await fit.until(frames);
        if (asked !== this.asked || !ready || this.stage.now() === null) {
          if (fit.fault) this.stage.fault(fit.fault);
          for (const change of changes) this.fits.giveBack(change.fit);
          return;
        }
        const later = placeIn(next.plan, old, this.stage.now()! + 2 * ON_ITS_WAY * rate, rate);
        isMade = fit.made >= Math.min(fit.length, Math.ceil(later * rate));
      }
    const turn = this.stage.now();
    if (turn === null) return;
    const frame = Math.round(turn + ON_ITS_WAY * rate);
    let grid: Grid | null | undefined;
    for (const { old, aimed: next, fit } of changes) {
      const start = frame - Math.round(placeIn(next.plan, old, frame, rate) * rate);
      const one = { id: `target ${++this.count}`, aimed: next, fit, start, since: frame, until: Infinity };
      this.put(one, SILENT);
      this.stage.tell({ kind: 'at', frame, commands: [{ kind: 'hear', id: one.id, hearing: AS_RECORDED }] });
      this.end(old, frame);
      if (next.plan.grid) grid = laterBy(next.plan.grid, start / rate);
    }
    if (grid) this.arrange(grid, frame);
  }

  /** These may be asked for next; what was prepared before and is none of them need not be. */
  prepare(aimed: readonly Aimed[]) {
    const before = this.prepared;
    this.prepared = aimed.map((one) => this.fits.take(one));
    for (const fit of before) this.fits.giveBack(fit);
  }

  /** One of several is heard no longer; the last one stays. */
  leave(sampleId: string) {
    const now = this.stage.now();
    const goingOn = this.sounding.filter(({ until }) => until === Infinity);
    if (now === null || goingOn.length < 2) return;
    for (const one of goingOn)
      if (one.aimed.sampleId === sampleId) this.end(one, Math.round(now + ON_ITS_WAY * this.stage.rate()));
    const stays = goingOn.findLast(({ aimed }) => aimed.sampleId !== sampleId);
    if (stays) this.lookAt(stays.aimed.sampleId, 0);
  }

  /** Nothing sounds at a target any more. */
  clear() {
    clearTimeout(this.timer);
    for (const { fit } of this.sounding) this.fits.giveBack(fit);
    this.sounding = [];
    this.stage.tell({ kind: 'clear' });
    this.grid = null;
  }

  /** What is asked for and not there yet is not wanted any more. */
  forget() {
    this.asked++;
  }

  /** Has more made of what is played, as it goes on. */
  keepUp(frame: number) {
    this.letGo(({ until }) => until < frame - FADED);
    for (const { fit, start, aimed, until } of this.sounding)
      if (until > frame && !fit.isWhole && !aimed.plan.loops) fit.want(frame - start + 2 * this.stage.rate());
  }

  private put(one: Sounding, hearing: Hearing) {
    const { id, fit, start, aimed } = one;
    this.sounding.push(one);
    const channels = fit.channels!;
    this.stage.tell(
      aimed.plan.loops
        ? { kind: 'go round', id, channels, turn: aimed.plan.seconds * this.stage.rate(), start, hearing }
        : { kind: 'put', id, channels, from: 0, to: channels[0].length, start, hearing },
    );
  }

  private end(one: Sounding, frame: number) {
    if (one.until <= frame) return;
    one.until = frame;
    const commands: MixerCommand[] = [{ kind: 'hear', id: one.id, hearing: SILENT }];
    this.stage.tell({ kind: 'at', frame, commands });
    this.stage.tell({ kind: 'at', frame: frame + FADED, commands: [{ kind: 'take', id: one.id }] });
  }

  private forgetEnded(now: number) {
    this.letGo(
      ({ until, aimed: { plan }, start }) =>
        until < now - FADED || (!plan.loops && start + plan.seconds * this.stage.rate() < now),
    );
  }

  private letGo(isOver: (one: Sounding) => boolean) {
    if (!this.sounding.some(isOver)) return;
    for (const one of this.sounding) if (isOver(one)) this.fits.giveBack(one.fit);
    this.sounding = this.sounding.filter((one) => !isOver(one));
  }

  /** The clock's bars and beats, from now or from a frame on; the click follows them where it is wanted. */
  private arrange(grid: Grid | null, frame?: number) {
    this.grid = grid;
    const command: MixerCommand = { kind: 'grid', grid: this.isClicking ? grid : null };
    this.stage.tell(frame === undefined ? command : { kind: 'at', frame, commands: [command] });
  }

  /** Whether the click runs along. */
  click(on: boolean) {
    if (this.isClicking === on) return;
    this.isClicking = on;
    if (this.isOn) this.arrange(this.grid);
  }

  private nextTurn(soonest: number, handOver: HandOver): number {
    const { grid } = this;
    if (!grid) return soonest;
    const every = handOver === 'bar' ? feltBeatsPerBar(grid.meter) : 1;
    return beatTime(grid, Math.ceil(beatPosition(grid, soonest) / every - 1e-9) * every);
  }

  private lookAt(sampleId: string, inSeconds: number) {
    clearTimeout(this.timer);
    const look = () =>
      this.stage.looksAt(
        sampleId,
        this.sampleIds.filter((id) => id !== sampleId),
      );
    this.timer = setTimeout(look, Math.max(0, inSeconds * 1000));
  }
}

/** Where in the result of another plan of the same sample what is heard at a frame stands, seconds. */
function placeIn(plan: Plan, { aimed, start }: Sounding, frame: number, rate: number): number {
  const place = toResult(plan.map, heardAt(aimed.plan, (frame - start) / rate) - plan.from);
  return plan.loops ? ((place % plan.seconds) + plan.seconds) % plan.seconds : place;
}

/** When in the result the bar begins in which a place of the sample stands, seconds; the place itself where there are no bars. */
function barBefore({ grid, map, from }: Plan, place: number): number {
  const time = toResult(map, place - from);
  if (!grid) return time;
  const bar = feltBeatsPerBar(grid.meter);
  return beatTime(grid, Math.floor(beatPosition(grid, time) / bar + 1e-6) * bar);
}

/** A plan begun with the bar in which a place of the sample stands; what loops is begun there without being cut. */
function begunAtBar(plan: Plan, place: number): Plan {
  if (plan.loops) return plan;
  const at = barBefore(plan, place);
  if (at <= plan.one) return plan;
  const begun = begunAt(plan, at);
  return { ...begun, grid: begun.grid && { ...begun.grid, one: 0 } };
}
