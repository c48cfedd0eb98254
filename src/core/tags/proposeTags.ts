import type { Measurement } from '../measurement/schema';
import { readPart } from '../readings/nameReading';
import { FACETS, type Facet, type Tag } from './facets';

/** A tag that is proposed, with what speaks for it. */
export interface ProposedTag {
  tag: Tag;
  /** "its name says bass", "6.1 hits a second". */
  reason: string;
}

/** Upper edges of the first four steps of each scale; set on the demo library and on dance and folk loops. */
const EDGES = {
  /** Onsets per second. */
  motion: [0.8, 2.2, 4.5, 8],
  /** Spectral centroid, Hz. */
  colour: [450, 900, 1700, 3200],
  /** Spectral flatness, 0 (tones) … 1 (noise). */
  grain: [0.05, 0.12, 0.22, 0.38],
  /** Seconds for the level to fall by 20 dB after a hit. */
  room: [0.12, 0.25, 0.5, 1],
  /** Place of the off-beat in the beat: 0.5 straight, 0.667 a triplet. */
  feel: [0.525, 0.57, 0.61, 0.68],
} as const;

/** Below this centre of its spectrum something with a pitch is a bass, Hz. */
const BASS_CENTRE = 260;
/** Noise that is hit so often and has no key is played on drums. */
const DRUM_FLATNESS = 0.08;
const DRUM_HITS = 1.5;

/** The part, and how it is made, as the name or else the measurement says it; none where neither does. */
export function proposePart(name: string, measurement: Measurement | null): ProposedTag[] {
  const { part } = readPart(name);
  const proposed = part ? [of('part', part, `its name says ${part}`)] : measuredPart(measurement);
  const drums = proposed.find(({ tag }) => tag.value === 'drums' || tag.value === 'percussion');
  return drums ? [...proposed, of('made by', 'struck', `${drums.tag.value} are struck`)] : proposed;
}

function measuredPart(measurement: Measurement | null): ProposedTag[] {
  const { character, key, kind } = measurement ?? {};
  if (!character || kind === 'song') return [];
  const { centroidHz, flatness, onsetsPerSecond } = character;
  if (key && centroidHz < BASS_CENTRE)
    return [of('part', 'bass', `it has a pitch, and its spectrum centres at ${Math.round(centroidHz)} Hz`)];
  if (!key && flatness > DRUM_FLATNESS && onsetsPerSecond > DRUM_HITS)
    return [of('part', 'drums', `${onsetsPerSecond.toFixed(1)} hits a second, and no key`)];
  return [];
}

/** The steps that the measurement suggests; the curator decides. */
export function proposeTags({ character, swing }: Pick<Measurement, 'character' | 'swing'>): ProposedTag[] {
  if (!character) return [];
  const { onsetsPerSecond, centroidHz, flatness, decaySeconds } = character;
  const proposed = [
    step('motion', onsetsPerSecond, `${onsetsPerSecond.toFixed(1)} hits a second`),
    step('colour', centroidHz, `its spectrum centres at ${Math.round(centroidHz)} Hz`),
    step('grain', flatness, `flatness ${flatness.toFixed(2)}: 0 is tones, 1 is noise`),
  ];
  if (decaySeconds !== null)
    proposed.push(step('room', decaySeconds, `a hit falls by 20 dB in ${decaySeconds.toFixed(2)} s`));
  if (swing !== null) proposed.push(step('feel', swing, `the off-beat at ${swing.toFixed(2)} of the beat`));
  return proposed;
}

const of = (facet: Facet, value: string, reason: string): ProposedTag => ({ tag: { facet, value }, reason });

function step(facet: Facet & keyof typeof EDGES, value: number, reason: string): ProposedTag {
  const at = EDGES[facet].filter((edge) => value > edge).length;
  return of(facet, FACETS[facet][at], reason);
}
