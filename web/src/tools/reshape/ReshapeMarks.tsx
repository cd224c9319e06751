/** What the planned work shows above the part. */
import { useStore } from 'zustand';
import type { Project } from '../../space/projection';
import { reshapeStore } from './reshapeStore';
import { workNamed } from './works';

export function ReshapeMarks({ project }: { project: Project }) {
  const Marks = workNamed(useStore(reshapeStore, (s) => s.work))?.Marks;
  return Marks ? <Marks project={project} /> : null;
}
