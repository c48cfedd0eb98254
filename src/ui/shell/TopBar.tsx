'use client';
import clsx from 'clsx';
import { CircleQuestionMark, Moon, SlidersHorizontal, Sun } from 'lucide-react';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { useState } from 'react';
import { IconButton } from '../kit/IconButton';
import { TaskTray } from '../tasks/TaskTray';
import { TargetControl } from '../target/TargetControl';
import { useHint } from '../kit/shortcuts';
import { EVERYWHERE } from '../shortcuts/shortcutTables';
import { CuratorMenu } from './CuratorMenu';
import { openKeySheet } from './KeySheet';
import { lastOnBench } from './lastOnBench';
import { putTheme, type Theme } from './theme';

const SCREENS = [
  { name: 'Intake', path: '/intake' },
  { name: 'Bench', path: '/bench' },
  { name: 'Shelf', path: '/shelf' },
  { name: 'Blend', path: '/blend' },
  { name: 'Packs', path: '/pack' },
] as const;
/** Where samples are played one at a time. */
const AT_TARGET = ['/intake', '/bench', '/shelf'];

export function TopBar({ theme: initial }: { theme: Theme }) {
  const path = usePathname();
  const hint = useHint();
  const [theme, setTheme] = useState(initial);
  const change = () => {
    const next = theme === 'day' ? 'night' : 'day';
    setTheme(next);
    putTheme(next);
  };
  return (
    <header className="flex print:hidden h-11 shrink-0 items-stretch overflow-x-auto overflow-y-hidden border-b border-rule-strong bg-sheet pl-4 pr-2">
      <Link href="/intake" className="mr-4 flex items-center gap-2 text-lg font-bold tracking-tight">
        <Mark />
        Grento
      </Link>
      <nav aria-label="Screens" className="flex">
        {SCREENS.map(({ name, path: target }) => {
          const here = path.startsWith(target);
          const last = target === '/bench' ? lastOnBench() : null;
          return (
            <Link
              key={target}
              href={last ? `/bench/${last}` : target}
              aria-current={here ? 'page' : undefined}
              className={clsx(
                'flex items-center border-b-2 px-3 pt-0.5',
                here
                  ? 'border-one font-semibold text-ink'
                  : 'border-transparent text-ink-soft hover:text-ink',
              )}
            >
              {name}
            </Link>
          );
        })}
      </nav>
      <div className="ml-auto flex items-center gap-3">
        <TaskTray />
        {AT_TARGET.some((start) => path.startsWith(start)) && <TargetControl />}
        <IconButton label={hint(EVERYWHERE.sheet)} onClick={openKeySheet}>
          <CircleQuestionMark />
        </IconButton>
        <CuratorMenu />
        <Link
          href="/settings"
          aria-label="Settings"
          title="Settings"
          aria-current={path.startsWith('/settings') ? 'page' : undefined}
          className="grid size-7 place-items-center hover:bg-wash-ink aria-[current=page]:text-one"
        >
          <SlidersHorizontal className="size-4" aria-hidden />
        </Link>
        <IconButton label={theme === 'day' ? 'Dark theme' : 'Light theme'} onClick={change}>
          {theme === 'day' ? <Moon /> : <Sun />}
        </IconButton>
      </div>
    </header>
  );
}

/** Four strokes on a rule, the first in the signal colour: a bar with its one. */
function Mark() {
  return (
    <svg width="22" height="18" viewBox="0 0 22 18" aria-hidden>
      <path d="M0 14.5H22" stroke="var(--rule-strong)" />
      <path d="M2.5 2V17" stroke="var(--one)" strokeWidth="2.4" />
      <path d="M8 8V17M13.5 5V17M19 8V17" stroke="var(--ink)" strokeWidth="1.6" />
    </svg>
  );
}
