import type { ReactNode } from 'react';
import { IntakeFrame } from '@/ui/intake/IntakeFrame';

export default function Layout({ children }: { children: ReactNode }) {
  return <IntakeFrame>{children}</IntakeFrame>;
}
