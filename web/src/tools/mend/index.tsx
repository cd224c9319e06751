import { Bandage } from 'lucide-react';
import type { Tool } from '../../hand/tool';
import { PickReadout } from '../reshape/PickReadout';
import * as pick from '../reshape/pick';
import { ReshapeMarks } from '../reshape/ReshapeMarks';

const nothing = (): null => null;

export const TOOL: Tool = {
  ...pick.POINTER,
  name: 'mend',
  key: 'n',
  words: 'Mend',
  also: ['repair', 'fix', 'cleanup', 'heal', 'tools', 'tray'],
  icon: Bandage,
  order: 9,
  Readout: PickReadout,
  Plan: nothing,
  Marks: ReshapeMarks,
  hint: 'Pick what is to be mended, then choose from the tray what becomes of it. Each is planned first: its numbers can be typed over, and nothing is done before you make it so.',
  begin: '',
  useAside: () => undefined,
  useChanged: () => [],
  reset: () => {},
  uses: [],
};
