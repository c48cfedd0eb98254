import { AS_RECORDED, type Hearing } from '@/core/playing/voice';
import type { OpenSample } from './openSample';
import type { SampleCache } from './sampleCache';
import type { SoundThread } from './soundThread';

/** A sample that is to sound, and how. */
export interface Sounding {
  sampleId: string;
  durationSeconds: number | null;
  hearing: Hearing;
}

interface Voice {
  sample: OpenSample;
  hearing: Hearing;
  /** What came while others played is heard as soon as it is there, and waited for from then on. */
  joined: boolean;
  stopListening: () => void;
}

interface VoiceEvents {
  /** The lead can be heard, as far as it is decoded; again where its length was not what it was said to be. */
  onPlayable: () => void;
  /** More of any is decoded. */
  onMore: () => void;
  /** One cannot be decoded, and is not there any more; gets a sentence for the user. */
  onFault: (sampleId: string, fault: string) => void;
}

/** The samples on the engine's clock: one leads, others may sound beside it; all begin at its beginning. */
export class Voices {
  private readonly voices = new Map<string, Voice>();
  private leadId: string | null = null;

  constructor(
    private readonly thread: Pick<SoundThread, 'tell'>,
    private readonly cache: SampleCache,
    private readonly events: VoiceEvents,
  ) {}

  get lead(): OpenSample | null {
    return (this.leadId !== null && this.voices.get(this.leadId)?.sample) || null;
  }

  /** Opens one to lead; all others go. */
  open(sampleId: string, durationSeconds: number | null): OpenSample {
    this.close();
    this.leadId = sampleId;
    return this.put({ sampleId, durationSeconds, hearing: AS_RECORDED });
  }

  /** All go. */
  close() {
    for (const id of [...this.voices.keys()]) this.take(id);
    this.leadId = null;
    this.thread.tell({ kind: 'clear' });
  }

  /** Lets these sound with the one that leads, and it as they say; null: it alone, as it was recorded. */
  soundTogether(wanted: readonly Sounding[] | null) {
    for (const id of [...this.voices.keys()])
      if (id !== this.leadId && !wanted?.some(({ sampleId }) => sampleId === id)) {
        this.take(id);
        this.thread.tell({ kind: 'take', id });
      }
    for (const one of wanted ?? []) if (!this.hear(one.sampleId, one.hearing)) this.put(one);
    if (!wanted && this.leadId !== null) this.hear(this.leadId, AS_RECORDED);
  }

  private hear(id: string, hearing: Hearing): boolean {
    const voice = this.voices.get(id);
    if (!voice) return false;
    voice.hearing = hearing;
    this.thread.tell({ kind: 'hear', id, hearing: audible(voice) });
    return true;
  }

  private put({ sampleId, durationSeconds, hearing }: Sounding): OpenSample {
    const sample = this.cache.take(sampleId, durationSeconds);
    const leads = sampleId === this.leadId;
    const voice: Voice = { sample, hearing, joined: leads, stopListening: () => {} };
    this.voices.set(sampleId, voice);
    voice.stopListening = sample.listen({
      onPlayable: () => {
        this.tell(sampleId, voice);
        if (leads) this.events.onPlayable();
      },
      onMore: () => this.events.onMore(),
      onFault: (fault) => {
        this.take(sampleId);
        this.events.onFault(sampleId, fault);
      },
    });
    return sample;
  }

  private take(id: string) {
    const voice = this.voices.get(id);
    if (!voice) return;
    this.voices.delete(id);
    voice.stopListening();
    this.cache.giveBack(voice.sample);
  }

  /** Whether all that is to be heard from a time on is decoded. */
  areThere(time: number): boolean {
    return [...this.voices.values()].every(({ sample, hearing }) => hearing.muted || sample.isThere(time));
  }

  /** Whether something that is heard is near to where it is not decoded yet. */
  runOut(time: number): boolean {
    return [...this.voices.values()].some(
      ({ sample, hearing, joined }) => joined && !hearing.muted && sample.runsOut(time),
    );
  }

  /** Those that are there from a time on are heard from now on. */
  join(time: number) {
    for (const [id, voice] of this.voices) {
      if (voice.joined || !voice.sample.isThere(time)) continue;
      voice.joined = true;
      this.thread.tell({ kind: 'hear', id, hearing: voice.hearing });
    }
  }

  /** Share of the files beside the one that leads that is fetched and decoded; 1 when there are none. */
  loadedBeside(): number {
    const beside = [...this.voices].filter(([id]) => id !== this.leadId);
    if (beside.length === 0) return 1;
    return beside.reduce((sum, [, { sample }]) => sum + sample.loaded, 0) / beside.length;
  }

  tellAll() {
    for (const [id, voice] of this.voices) this.tell(id, voice);
  }

  private tell(id: string, voice: Voice) {
    const { channels } = voice.sample;
    if (!channels) return;
    const to = channels[0].length;
    this.thread.tell({ kind: 'put', id, channels, from: 0, to, start: 0, hearing: audible(voice) });
  }
}

const audible = ({ hearing, joined }: Voice): Hearing => (joined ? hearing : { ...hearing, muted: true });
