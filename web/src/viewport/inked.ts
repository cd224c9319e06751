/** Marks above the part as a drawing that stands by itself: without the page it has no styles but its own. */

/** What of the styles of the page is seen in a drawing. */
const SEEN = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
  'stroke-opacity',
  'opacity',
  'paint-order',
  'transform',
  'visibility',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
  'dominant-baseline',
] as const;
/** What only the page makes something of. */
const OF_THE_PAGE = ['class', 'style', 'data-testid'];
const SVG = 'http://www.w3.org/2000/svg';
const NOT_IN_PICTURES = '[data-testid=lesson-aims]';

/** The marks that lie over a picture, in groups, each as the text of an SVG element. */
export function inkedMarks(over: Element): string[] {
  return [...over.querySelectorAll(':scope > svg')]
    .filter((drawing) => !drawing.matches(NOT_IN_PICTURES))
    .map((drawing) => {
      const group = document.createElementNS(SVG, 'g');
      group.append(...[...drawing.children].map(inked));
      return new XMLSerializer().serializeToString(group);
    });
}

/** A copy with its looks as attributes of its own: styles would not be let onto the page. */
function inked(element: Element): Element {
  const copy = document.createElementNS(SVG, element.localName);
  for (const { name, value } of element.attributes) if (!OF_THE_PAGE.includes(name)) copy.setAttribute(name, value);
  const seen = getComputedStyle(element);
  for (const name of SEEN) {
    const value = seen.getPropertyValue(name);
    if (value !== '' && value !== 'none') copy.setAttribute(name, value);
    else if (value === 'none') copy.setAttribute(name, name === 'transform' ? '' : 'none');
  }
  for (const child of element.childNodes) copy.append(child instanceof Element ? inked(child) : child.cloneNode(false));
  return copy;
}

/** A drawing of so many pixels of the screen. */
export const asDrawing = (groups: string[], width: number, height: number): string =>
  `<svg xmlns="${SVG}" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${groups.join('')}</svg>`;
