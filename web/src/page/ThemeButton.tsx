import { Moon, Sun } from 'lucide-react';
import { useStore } from 'zustand';
import { toggleNight, viewStore } from '../stores/viewStore';
import { IconButton } from '../ui/Button';

export function ThemeButton() {
  const night = useStore(viewStore, (s) => s.night);
  return (
    <IconButton label={night ? 'Day theme' : 'Night theme'} onClick={toggleNight}>
      {night ? <Sun size={18} /> : <Moon size={18} />}
    </IconButton>
  );
}
