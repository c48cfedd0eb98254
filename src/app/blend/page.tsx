import type { Metadata } from 'next';
import { BlendList } from '@/ui/blend/BlendList';

export const metadata: Metadata = { title: 'Blends · Grento' };

export default function Page() {
  return <BlendList />;
}
