import { Play, SkipBack, Square } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { useHint } from '../kit/shortcuts';
import { PLAYBACK } from '../shortcuts/shortcutTables';

interface Props {
  fault: string | null;
  playing: boolean;
  ready: boolean;
  onToggle: () => void;
  /** What playing from the beginning is called, and whether it can be. */
  fromStart: { label: string; ready: boolean; onPress: () => void };
  children: ReactNode;
}

/** The bar with which something is played: what went wrong, Play, from the beginning, and what else a screen has. */
export function TransportFrame({ fault, playing, ready, onToggle, fromStart, children }: Props) {
  const hint = useHint();
  return (
    <div
      className="relative flex min-h-[4.25rem] shrink-0 flex-wrap items-center gap-x-2 gap-y-1 border-t border-rule-strong bg-sheet px-3"
      role="group"
      aria-label="Transport"
    >
      {fault && (
        <p
          role="alert"
          className="absolute inset-x-0 bottom-full border-t border-one bg-wash-one px-3 py-1 text-small text-one"
        >
          {fault}
        </p>
      )}
      <div className="flex items-center gap-1">
        <Button
          tone="strong"
          className="h-11 w-14"
          disabled={!ready}
          aria-label={playing ? 'Stop' : 'Play'}
          title={hint(PLAYBACK.play, playing ? 'Stop' : 'Play')}
          onClick={onToggle}
        >
          {playing ? <Square className="size-5" /> : <Play className="size-5" />}
        </Button>
        <IconButton label={fromStart.label} disabled={!fromStart.ready} onClick={fromStart.onPress}>
          <SkipBack />
        </IconButton>
      </div>
      {children}
    </div>
  );
}
