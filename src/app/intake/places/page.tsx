import type { Metadata } from 'next';
import { PlacesScreen } from '@/ui/intake/places/PlacesScreen';

export const metadata: Metadata = { title: 'Folders · Grento' };

export default function Page() {
  return <PlacesScreen />;
}
