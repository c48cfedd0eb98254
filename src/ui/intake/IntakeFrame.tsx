'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { FolderInput, Upload as UploadIcon } from 'lucide-react';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { useCallback, useEffect, useRef, type ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import { fetchIntakeCounts } from '../api/intake';
import { Button } from '../kit/Button';
import { ProgressPanel } from './ProgressPanel';
import { uploads } from './uploads';

/** What stands around all views of the Intake: the ways in, the views, and what is on its way. */
export function IntakeFrame({ children }: { children: ReactNode }) {
  const path = usePathname();
  const { data: counts = {} } = useQuery({
    queryKey: ['intake', 'counts', '', ''],
    queryFn: ({ signal }) => fetchIntakeCounts(new URLSearchParams(), signal),
  });
  const views = [
    { name: 'Arrivals', path: '/intake', count: 0 },
    { name: 'Stem sets', path: '/intake/stems', count: counts['proposed stem sets'] ?? 0 },
    { name: 'Duplicates', path: '/intake/alike', count: counts['alike pairs'] ?? 0 },
    { name: 'Folders', path: '/intake/places', count: 0 },
    { name: 'Record MIDI', path: '/intake/play', count: 0 },
    { name: 'Deliveries', path: '/intake/deliveries', count: 0 },
  ];

  const drop = useCallback((files: readonly DroppedFile[]) => {
    void uploads.add(files.map((file) => ({ file, folder: folderOf(file) })));
  }, []);
  const dropzone = useDropzone({ onDrop: drop, noClick: true, noKeyboard: true });
  const folderInput = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const files = Array.from(event.clipboardData?.files ?? []);
      if (files.length === 0) return;
      event.preventDefault();
      drop(files);
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, [drop]);

  return (
    <div {...dropzone.getRootProps({ className: 'relative flex h-full flex-col' })}>
      <input {...dropzone.getInputProps({ 'aria-label': 'Select files' })} />
      <input
        ref={folderInput}
        type="file"
        multiple
        hidden
        aria-hidden
        {...{ webkitdirectory: '' }}
        onChange={(event) => {
          drop(Array.from(event.target.files ?? []));
          event.target.value = '';
        }}
      />
      <div className="flex h-10 shrink-0 items-center gap-2 border-b border-rule px-4">
        <h1 className="sr-only">Intake</h1>
        <nav aria-label="Views of the Intake" className="flex h-full items-stretch gap-5">
          {views.map(({ name, path: target, count }) => {
            const here = path === target;
            return (
              <Link
                key={target}
                href={target}
                aria-current={here ? 'page' : undefined}
                className={clsx(
                  'flex items-center gap-1.5 border-b-2 pt-0.5 text-small',
                  here ? 'border-ink font-semibold' : 'border-transparent text-ink-soft hover:text-ink',
                )}
              >
                {name}
                {count > 0 && (
                  <span className="figures bg-wash-look px-1 text-tiny font-normal text-look">{count}</span>
                )}
              </Link>
            );
          })}
        </nav>
        <span className="ml-auto" />
        <Button onClick={() => folderInput.current?.click()}>
          <FolderInput className="size-4" aria-hidden /> Import folder…
        </Button>
        <Button tone="strong" onClick={dropzone.open}>
          <UploadIcon className="size-4" aria-hidden /> Import files…
        </Button>
      </div>
      <ProgressPanel />
      <div className="min-h-0 flex-1">{children}</div>
      {dropzone.isDragActive && (
        <div className="pointer-events-none absolute inset-2 z-10 flex items-center justify-center border-2 border-dashed border-one bg-sheet/90 text-lg">
          Drop to import. Files are stored unchanged.
        </div>
      )}
    </div>
  );
}

/** The drop area adds the path that a file was dropped with. */
type DroppedFile = File & { path?: string };

function folderOf(file: DroppedFile): string {
  const path = file.webkitRelativePath || file.path || file.name;
  return path
    .replace(/^\.?\//, '')
    .split('/')
    .slice(0, -1)
    .join('/');
}
