'use client';
import { FolderOpen, Theater } from 'lucide-react';
import Link from 'next/link';
import { loadDemoLibrary } from '../../api/intake';
import { Button, buttonClass } from '../../kit/Button';
import { Empty } from '../../kit/States';
import { useAction } from '../../kit/useAction';

/** What an empty library offers: dropping files, a folder of this machine, the demo library. */
export function EmptyLibrary() {
  const demo = useAction({
    run: loadDemoLibrary,
    says: () => 'The demo library is loading. Its samples appear here one by one.',
  });
  return (
    <Empty>
      <p className="text-lg font-semibold text-ink">The library is empty.</p>
      <p className="mt-2">
        Drop files, whole folders or a ZIP here: WAV, AIFF, FLAC, MP3, Ogg, Opus, MP4 and MIDI files. They are
        measured at once; the files themselves are kept exactly as they are.
      </p>
      <div className="mt-4 flex justify-center gap-2">
        <Link href="/intake/places" className={buttonClass()}>
          <FolderOpen className="size-4" aria-hidden /> Open a folder of this machine
        </Link>
        <Button disabled={demo.isBusy} onClick={() => demo.act()}>
          <Theater className="size-4" aria-hidden /> Load the demo library
        </Button>
      </div>
    </Empty>
  );
}
