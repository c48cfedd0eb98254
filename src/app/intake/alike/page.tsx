import type { Metadata } from 'next';
import { AlikeScreen } from '@/ui/intake/alike/AlikeScreen';

export const metadata: Metadata = { title: 'Duplicates · Grento' };

export default function Page() {
  return <AlikeScreen />;
}
