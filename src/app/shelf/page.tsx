import type { Metadata } from 'next';
import { ShelfScreen } from '@/ui/shelf/ShelfScreen';

export const metadata: Metadata = { title: 'Shelf · Grento' };

export default function Page() {
  return <ShelfScreen />;
}
