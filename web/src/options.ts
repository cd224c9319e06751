/** Distances, delays and limits of the interface, each with its unit in the name. */

export const DRAG_STARTS_AFTER_PX = 4;
export const FLASH_FOR_MS = 1100;
export const ASK_AGAIN_AFTER_MS = 1500;
export const FIELD_OF_VIEW_DEG = 32;
export const FRAME_MARGIN = 1.07;
export const STOP_STEPS = [0.5, 1 / 3, 0.25, 0.2, 0.1, 0.05] as const;
export const DEFAULT_STOP_STEP = 0.1;
export const PICTURE_SIZE_PX = { width: 520, height: 340 } as const;
