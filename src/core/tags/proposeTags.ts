import type { Measurement } from '../measurement/schema';
import { readPart } from '../readings/nameReading';
import { FACETS, type Facet, type Tag } from './facets';

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

/** The part that a name says is played, as a tag; none where it says nothing. */
export function proposePart(name: string): Tag[] {
  const { part } = readPart(name);
  return part ? [{ facet: 'part', value: part }] : [];
}

/** The steps that the measurement suggests; the curator decides. */
export function proposeTags({ character, swing }: Pick<Measurement, 'character' | 'swing'>): Tag[] {
  if (!character) return [];
  const tags: Tag[] = [
    step('motion', character.onsetsPerSecond),
    step('colour', character.centroidHz),
    step('grain', character.flatness),
  ];
  if (character.decaySeconds !== null) tags.push(step('room', character.decaySeconds));
  if (swing !== null) tags.push(step('feel', swing));
  return tags;
}

function step(facet: Facet & keyof typeof EDGES, value: number): Tag {
  const edges = EDGES[facet];
  const at = edges.filter((edge) => value > edge).length;
  return { facet, value: FACETS[facet][at] };
}
