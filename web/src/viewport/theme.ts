/** The colours of the theme that is on. */
import { Color } from 'three';

export function isNight(): boolean {
  return document.documentElement.dataset.theme === 'night';
}

export type ThemeColour = 'ink' | 'soft' | 'paper' | 'card' | 'bone' | 'thread' | 'tide' | 'ochre';

export function themeColour(name: ThemeColour): Color {
  return new Color(getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim() || '#888');
}
