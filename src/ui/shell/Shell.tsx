'use client';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Toaster } from 'sonner';
import { useLiveChanges } from '../api/liveChanges';
import { useLeftChanges } from '../outbox/useLeftChanges';
import { useFollowsMade } from '../tasks/made';
import { AwayLine } from './AwayLine';
import { Guide } from './Guide';
import { KeySheet } from './KeySheet';
import { TopBar } from './TopBar';
import type { Theme } from './theme';

/** What stands around every screen: the bar, the messages and the sheet of shortcuts. */
export function Shell({ theme, children }: { theme: Theme; children: ReactNode }) {
  const [queries] = useState(
    () =>
      new QueryClient({
        defaultOptions: { queries: { staleTime: 5_000, retry: 1, refetchOnWindowFocus: false } },
      }),
  );
  return (
    <QueryClientProvider client={queries}>
      <Live />
      <div className="flex h-dvh flex-col print:h-auto">
        <TopBar theme={theme} />
        <AwayLine />
        <Guide />
        {/* Where there is less room than a screen is made for it scrolls inside, and nothing of it is lost. */}
        <main className="min-h-0 flex-1 overflow-auto print:overflow-visible">
          <div className="h-full min-h-[34rem] min-w-[63rem] print:min-w-0">{children}</div>
        </main>
      </div>
      <KeySheet />
      <Toaster
        position="top-left"
        // Between the screens and the tasks, where nothing else is.
        offset={{ top: 4, left: '26rem' }}
        duration={6000}
        visibleToasts={2}
        toastOptions={{
          unstyled: true,
          classNames: {
            toast:
              'flex min-h-9 w-[22rem] items-center gap-3 border border-rule-strong bg-sheet px-3 py-0.5 text-small leading-tight text-ink shadow-md',
            actionButton:
              'ml-auto shrink-0 whitespace-nowrap border border-rule-strong px-2 py-0.5 hover:bg-wash-ink',
            error: 'border-l-4 border-l-one',
            success: 'border-l-4 border-l-good',
          },
        }}
      />
    </QueryClientProvider>
  );
}

function Live() {
  useLiveChanges();
  useLeftChanges();
  useFollowsMade();
  return null;
}
