'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { GLOSSARY, type GlossaryTerm } from '@/words/glossary';

/** A word of Grento's own with its explanation, which opens on pressing the dotted underline. */
export function Term({ of, children }: { of: GlossaryTerm; children?: string }) {
  return (
    <Popover className="relative inline">
      <PopoverButton className="cursor-help underline decoration-dotted underline-offset-2">
        {children ?? of}
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'bottom start', gap: 4, padding: 4 }}
        className="z-40 w-72 border border-ink bg-paper p-2 text-left text-small font-normal text-ink"
      >
        <b>{of}</b>: {GLOSSARY[of]}
      </PopoverPanel>
    </Popover>
  );
}
