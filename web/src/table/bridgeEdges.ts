/** The edges that are picked: the border that a bridge to another part begins at. */
import { pickStore } from '../stores/pickStore';

export const bridgeEdges = (): number[] => pickStore.getState().edges;
