'use client';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import clsx from 'clsx';
import type { ReactNode } from 'react';
import { Button } from './Button';

interface Props {
  title: string;
  isOpen: boolean;
  onClose: () => void;
  /** Buttons beside the title. */
  actions?: ReactNode;
  width?: string;
  children: ReactNode;
}

/** A dialog over the screen; its keys are its own, Escape closes it. */
export function Overlay({ title, isOpen, onClose, actions, width = 'w-[46rem]', children }: Props) {
  return (
    <Dialog open={isOpen} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-6">
        <DialogPanel
          className={clsx('max-h-full overflow-auto border border-rule-strong bg-sheet p-6 shadow-xl', width)}
        >
          <div className="mb-4 flex items-center justify-between gap-4">
            <DialogTitle className="text-lg font-semibold">{title}</DialogTitle>
            <div className="flex gap-1.5">
              {actions}
              <Button onClick={onClose}>Close</Button>
            </div>
          </div>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
