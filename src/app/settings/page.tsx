import { SettingsScreen } from '@/ui/settings/SettingsScreen';

export default function Page() {
  return <SettingsScreen />;
}
