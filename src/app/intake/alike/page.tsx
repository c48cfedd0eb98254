import type { Metadata } from 'next';
import { AlikeScreen } from '@/ui/intake/alike/AlikeScreen';

export const metadata: Metadata = { title: 'Alike · Grento' };

export default function Page() {
  return <AlikeScreen />;
}
