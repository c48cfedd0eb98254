import type { Metadata } from 'next';
import { IntakeScreen } from '@/ui/intake/IntakeScreen';

export const metadata: Metadata = { title: 'Intake · Grento' };

export default function Page() {
  return <IntakeScreen />;
}
