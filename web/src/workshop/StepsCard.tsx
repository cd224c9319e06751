import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { partStore } from '../stores/partStore';
import { Card } from '../ui/Card';
import { countOf, formatChange, formatLength, formatShare } from '../ui/numbers';

/** The made cuts, the newest first; undone ones stay, paler, until another cut is made. */
export function StepsCard() {
  const steps = useStore(partStore, (s) => s.part?.steps);
  if (!steps) return null;
  const applied = steps.filter((step) => step.applied);
  const latest = applied.at(-1)?.number;
  return (
    <Card title="Steps" aside={String(applied.length)} testId="steps">
      {steps.length === 0 && <p className="text-soft">Cuts you make are listed here. Each can be undone.</p>}
      <ol reversed>
        {[...steps].reverse().map((step) => (
          <li
            key={step.number}
            data-applied={step.applied}
            className={`flex h-[25px] items-center justify-between ${step.number === latest ? 'font-semibold' : 'text-soft'} ${step.applied ? '' : 'opacity-75'}`}
          >
            <span>
              {step.number}. {stepWords(step)}
              {!step.applied && ' · undone'}
            </span>
            <span>{formatChange(step.quads)} quads</span>
          </li>
        ))}
      </ol>
    </Card>
  );
}

/** A step in a few words. */
function stepWords({ tool, params }: Schemas['StepOut']): string {
  switch (params?.tool) {
    case undefined:
      return tool;
    case 'knife': {
      const points = params.lines.reduce((sum, line) => sum + line.points.length, 0);
      return `Knife line, ${countOf(points, 'point')}${params.reach === 'through' ? ', right through' : ''}`;
    }
    case 'loop':
      return loopWords(params);
    case 'slice':
      return sliceWords(params);
    case 'outline':
      return `Outline, ${countOf(params.curves.length, 'curve')}`;
    case 'gauge':
      return `Gauge, ${countOf(params.widths.length, 'cut')} on ${params.axis}`;
    case 'profile':
      return `Profile, ${countOf(params.rows.length, 'height')} on ${params.axis}`;
    case 'dissolve':
      return 'Dissolve';
    case 'collapse':
      return 'Collapse';
    case 'weld':
      return `Weld within ${formatLength(params.distance)}`;
    case 'delete':
      return `${countOf(params.faces.length, 'face')} deleted`;
    case 'separate':
      return `${countOf(params.faces.length, 'face')} separated`;
    case 'size':
      return sizeWords(params);
    case 'extrude':
      return `${countOf(params.faces.length, 'face')} extruded by ${formatLength(params.distance)}`;
    case 'inset':
      return `${countOf(params.faces.length, 'face')} inset by ${formatLength(params.distance)}`;
    case 'round':
      return `A ring made round${params.diameter ? `, ${formatLength(params.diameter)} across` : ''}`;
    case 'bridge':
      return 'Bridge';
    case 'flip':
      return 'Faces flipped';
  }
}

function sizeWords({ extent, diameter, faces, edges, vertices }: Schemas['SizeParams']): string {
  const what = faces || edges || vertices ? 'The pick' : 'The part';
  if (diameter) return `${what} sized to ${formatLength(diameter)} across`;
  const sizes = Object.entries(extent ?? {}).flatMap(([axis, value]) =>
    value ? [`${axis} ${formatLength(value)}`] : [],
  );
  return sizes.length ? `${what} sized to ${sizes.join(', ')}` : `${what} moved`;
}

function loopWords({ at, spread, measure, follow }: Schemas['LoopParams']): string {
  const lifted = follow ? `, follow ${formatShare(follow)}` : '';
  const count = spread?.count ?? at?.length ?? 0;
  if (count > 1 || !at) return `${countOf(count, 'edge loop')}${lifted}`;
  const [place = 0] = at;
  return `Edge loop at ${measure === 'share' ? formatShare(place) : formatLength(place)}${lifted}`;
}

function sliceWords({ then, repeat, as_parts }: Schemas['SliceParams']): string {
  const words = { keep: 'kept both', discard: 'one side discarded', part: 'parted', halve: 'halved and mirrored' }[
    then ?? 'keep'
  ];
  return `${repeat ? `${repeat.count} slices` : 'Slice'}, ${words}${as_parts ? ' into parts' : ''}`;
}
