import type { Metadata } from 'next';
import { StemSetsScreen } from '@/ui/intake/stems/StemSetsScreen';

export const metadata: Metadata = { title: 'Stem sets · Grento' };

export default function Page() {
  return <StemSetsScreen />;
}
