/** Distances, delays and limits of the interface, each with its unit in the name. */

export const DRAG_STARTS_AFTER_PX = 4;
/** A planned point is taken up within this distance; by a finger within so many times of it. */
export const GRAB_WITHIN_PX = 9;
export const FINGER_REACH = 2.4;
/** Two fingers closer than this turn the part, further apart they move it. */
export const TURNING_FINGERS_PX = 120;
export const FLASH_FOR_MS = 1100;
export const FIELD_OF_VIEW_DEG = 32;
export const FRAME_MARGIN = 1.07;
export const STOP_STEPS = [0.5, 1 / 3, 0.25, 0.2, 0.1, 0.05] as const;
export const DEFAULT_ANGLE_STEP_DEG = 15;
export const DEFAULT_STOPS: { share: number } | { length: number } | null = { share: 0.1 };
export const PICTURE_SIZE_PX = { width: 520, height: 340 } as const;
export const DEFAULT_LOCK: {
  kind: 'free' | 'angle' | 'x' | 'y' | 'z' | 'square' | 'along' | 'grid';
  degrees: number;
  value: number | null;
  against: 'stretch' | 'edge' | 'view';
  spacing: number;
} = { kind: 'free', degrees: DEFAULT_ANGLE_STEP_DEG, value: null, against: 'view', spacing: 10 };
/** Guides are drawn so far beyond the view. */
export const GUIDE_REACH_PX = 3000;
/** How far one press of an arrow key moves the reticle, turns the part or moves it. */
export const RETICLE_STEP_PX = 8;
export const ORBIT_STEP_DEG = 5;
export const PAN_STEP_PX = 24;
export const ZOOM_STEP = 1.15;
/** Of larger parts only the moved edges of a plan are shown: their meshes take too long to be sent at every change. */
export const MOST_FACES_FORESHOWN = 100_000;
/** Work that takes longer than this shows how far it has come. */
export const SHOW_PROGRESS_AFTER_MS = 500;
export const ASK_FOR_PROGRESS_EVERY_MS = 300;
/** A plan is read out once it has been the same for so long. */
export const SPEAK_AFTER_MS = 600;
