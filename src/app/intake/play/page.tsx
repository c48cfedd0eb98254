import type { Metadata } from 'next';
import { PlayScreen } from '@/ui/intake/play/PlayScreen';

export const metadata: Metadata = { title: 'Record MIDI · Grento' };

export default function Page() {
  return <PlayScreen />;
}
