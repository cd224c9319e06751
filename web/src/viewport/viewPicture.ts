/** Pictures of the view to be kept: as pixels, so many times as fine as the screen, or in lines. */
import { client, refusalOf, type Schemas, token, unreachable } from '../api/client';
import { followed } from '../stores/jobStore';
import { partStore } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import { viewStore } from '../stores/viewStore';
import { asDrawing, inkedMarks } from './inked';
import { fetchMesh, type MeshPayload } from './meshPayload';
import { stageOf } from './stageOf';
import { themeColour } from './theme';

export interface PictureOf {
  wire: boolean;
  marks: boolean;
  others: boolean;
  /** On paper; otherwise on nothing. */
  ground: boolean;
}

/** Room between the two pictures of a step, and the size of their names, in pixels of the screen. */
const WORDS_PX = 15;
const DASH_PX = 7;

const css = (name: Parameters<typeof themeColour>[0]): string => `#${themeColour(name).getHexString()}`;

/** What is drawn over and under the part, all in one element. */
function layers(): { stage: NonNullable<typeof stageOf.current>; canvas: HTMLCanvasElement; around: Element } {
  const stage = stageOf.current;
  const canvas = document.querySelector<HTMLCanvasElement>('#part');
  const around = canvas?.parentElement;
  if (!stage || !canvas || !around) throw new Error('There is no part to take a picture of.');
  return { stage, canvas, around };
}

/** The view as a PNG, `scale` pixels for one of the screen. */
export async function pictureOfView(scale: number, { wire, marks, others, ground }: PictureOf): Promise<Blob> {
  const { stage, canvas, around } = layers();
  const [width, height] = [canvas.clientWidth, canvas.clientHeight];
  const [part] = stage.shoot({ scale, wire, others });
  const { sheet, ink } = paper(width * scale, height * scale, ground);
  for (const layer of around.children) {
    if (layer === canvas && part) ink.drawImage(part, 0, 0);
    else if (layer instanceof HTMLImageElement) {
      ink.globalAlpha = Number(getComputedStyle(layer).opacity);
      const { offsetLeft, offsetTop, offsetWidth, offsetHeight } = layer;
      ink.drawImage(layer, offsetLeft * scale, offsetTop * scale, offsetWidth * scale, offsetHeight * scale);
      ink.globalAlpha = 1;
    }
  }
  if (marks)
    ink.drawImage(await rasterised(asDrawing(inkedMarks(around), width, height)), 0, 0, sheet.width, sheet.height);
  return asPng(sheet);
}

/** A part before and after a step, side by side, seen from where it is seen now. */
export async function pictureOfStep(step: number, scale: number, { wire, others, ground }: PictureOf): Promise<Blob> {
  const { stage, canvas } = layers();
  const { part } = partStore.getState();
  const path = { part_id: part?.id ?? 0, number: step };
  const { data, error, response } = await client.GET('/api/parts/{part_id}/steps/{number}', { params: { path } });
  if (!data) throw refusalOf(error, response.status);
  const states: MeshPayload[] = await Promise.all([fetchMesh(data.before), fetchMesh(data.after)]);
  const pictures = stage.shoot({ scale, wire, others, states });
  const [width, height] = [canvas.clientWidth * scale, canvas.clientHeight * scale];
  const { sheet, ink } = paper(2 * width, height, ground);
  pictures.forEach((picture, k) => {
    ink.drawImage(picture, k * width, 0);
  });
  ink.strokeStyle = css('ink');
  ink.fillStyle = css('ink');
  ink.lineWidth = 1.5 * scale;
  ink.setLineDash([DASH_PX * scale, DASH_PX * scale]);
  ink.beginPath();
  ink.moveTo(width, 0);
  ink.lineTo(width, height);
  ink.stroke();
  ink.font = `600 ${WORDS_PX * scale}px ${getComputedStyle(document.body).fontFamily}`;
  for (const [words, at] of [
    ['before', 0],
    [`after step ${step}`, width],
  ] as const)
    ink.fillText(words, at + WORDS_PX * scale, height - WORDS_PX * scale);
  return asPng(sheet);
}

/** The view in lines, as an SVG drawing; `hidden` ones in dashes. */
export async function linesOfView(
  hidden: boolean,
  { wire, marks, others, ground }: PictureOf,
  signal?: AbortSignal,
): Promise<Blob> {
  const { around } = layers();
  const { part } = partStore.getState();
  const { view } = viewStore.getState();
  if (!part || !view) throw new Error('There is no part to take a picture of.');
  const body: Schemas['LinesIn'] = {
    revision: part.revision,
    picture: { view, every: wire, hidden, shown: pickStore.getState().shown },
    beside: others,
    colour: css('ink'),
    ground: ground ? css('paper') : null,
  };
  const drawn = await followed('Drawing the lines', async (job) => {
    const answer = await fetch(`/api/parts/${part.id}/lines?job=${job}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-CSRFToken': token() },
      body: JSON.stringify(body),
      signal: signal ?? null,
    }).catch(() => {
      throw unreachable();
    });
    if (!answer.ok) throw refusalOf(await answer.json().catch(() => undefined), answer.status);
    return answer.text();
  });
  const all = marks ? drawn.replace(/<\/svg>\s*$/, `${inkedMarks(around).join('\n')}\n</svg>\n`) : drawn;
  return new Blob([all], { type: 'image/svg+xml' });
}

function paper(width: number, height: number, ground: boolean) {
  const sheet = document.createElement('canvas');
  sheet.width = width;
  sheet.height = height;
  const ink = sheet.getContext('2d');
  if (!ink) throw new Error('This browser can’t put a picture together.');
  if (ground) {
    ink.fillStyle = css('paper');
    ink.fillRect(0, 0, width, height);
  }
  return { sheet, ink };
}

async function rasterised(drawing: string): Promise<HTMLImageElement> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawing)}`;
  await image.decode();
  return image;
}

const asPng = (sheet: HTMLCanvasElement): Promise<Blob> =>
  new Promise((keep, refuse) =>
    sheet.toBlob((blob) =>
      blob ? keep(blob) : refuse(new Error('So large a picture can’t be kept here: take a smaller one.')),
    ),
  );
