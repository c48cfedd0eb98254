import type { Bend } from '@/library/blend/parts';

/** Strain at which the mark is full. */
const FULL = 2;

/** How far a lane is bent: a figure in length, and its word. */
export function StrainMark({
  bend: { strain, word },
  isSmall = false,
}: {
  bend: Pick<Bend, 'strain' | 'word'>;
  /** The figure without its word. */
  isSmall?: boolean;
}) {
  const isMuch = word === 'strong' || word === 'too much';
  return (
    <span
      className="flex shrink-0 items-center gap-1.5 text-tiny"
      role="img"
      aria-label={`Strain ${strain.toFixed(2)}, ${word}`}
      title={`Strain ${strain.toFixed(2)}`}
    >
      <span className={`h-1 bg-wash-ink ${isSmall ? 'w-6' : 'w-12'}`}>
        <span
          className={`block h-full ${isMuch ? 'bg-look' : 'bg-trace'}`}
          style={{ width: `${Math.min(100, (strain / FULL) * 100)}%` }}
        />
      </span>
      <span className={isMuch ? 'text-look' : 'text-ink-soft'}>
        {isSmall ? strain.toFixed(2) : word === 'none' ? 'no strain' : `${strain.toFixed(2)} ${word}`}
      </span>
    </span>
  );
}
