import { notFound } from 'next/navigation';
import { KitPage } from '@/ui/kit/KitPage';

export const metadata = { title: 'Components · Grento' };
export const dynamic = 'force-dynamic';

/** For developers: not part of what curators use. */
export default function Page() {
  if (process.env.NODE_ENV === 'production' && !process.env.GRENTO_KIT) notFound();
  return <KitPage />;
}
