import type { Metadata } from 'next';
import { ArrivalsScreen } from '@/ui/intake/arrivals/ArrivalsScreen';

export const metadata: Metadata = { title: 'Intake · Grento' };

export default function Page() {
  return <ArrivalsScreen />;
}
