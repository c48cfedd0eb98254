import type { Metadata } from 'next';
import { DeliveriesScreen } from '@/ui/intake/deliveries/DeliveriesScreen';

export const metadata: Metadata = { title: 'Deliveries · Grento' };

export default function Page() {
  return <DeliveriesScreen />;
}
