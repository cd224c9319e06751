/** Whether the focus was last moved by keyboard: only then does a control keep the keys that commands use too. */
let walked = false;
let finger = false;

window.addEventListener(
  'keydown',
  (event) => {
    if (event.key === 'Tab') walked = true;
  },
  { capture: true },
);
window.addEventListener(
  'pointerdown',
  (event) => {
    walked = false;
    finger = event.pointerType === 'touch';
  },
  { capture: true },
);

/** Whether the last press was by a finger, which is not as exact as a pointer. */
export const pointedByFinger = (): boolean => finger;

export const walkedByKeyboard = (): boolean => walked;
