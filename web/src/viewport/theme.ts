/** The colours of the theme that is on. */
import { Color } from 'three';

export function isNight(): boolean {
  return document.documentElement.dataset.theme === 'night';
}

export function themeColour(name: 'ink' | 'soft' | 'paper' | 'card' | 'bone' | 'thread' | 'tide' | 'ochre'): Color {
  return new Color(getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim() || '#888');
}
