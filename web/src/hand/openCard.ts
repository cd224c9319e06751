/** Have a card of the right column open and in sight, with the tool that shows it in hand. */
import { drawerStore } from '../stores/drawerStore';
import { fold } from '../stores/foldStore';
import { planStore } from '../stores/planStore';
import { bringIntoSight } from './inSight';
import { changeTool } from './planning';

export function openCard(tool: string | null, card: string): void {
  if (tool) changeTool(tool);
  // The drawer of outlines covers the cards.
  drawerStore.setState({ open: false });
  fold(planStore.getState().planned ? 'planning' : 'apart', card, true);
  bringIntoSight(card);
}
