/** Whether the focus was last moved by keyboard: only then does a control keep the keys that commands use too. */
let walked = false;

window.addEventListener(
  'keydown',
  (event) => {
    if (event.key === 'Tab') walked = true;
  },
  { capture: true },
);
window.addEventListener(
  'pointerdown',
  () => {
    walked = false;
  },
  { capture: true },
);

export const walkedByKeyboard = (): boolean => walked;
