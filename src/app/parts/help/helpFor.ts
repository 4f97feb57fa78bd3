import { SHEETS, VIEWS, type Place } from './places';
import { ANYWHERE, IN_CHECK, IN_CONTROL, IN_LAYERS, IN_MIX, IN_SOUNDS, ON_STAGE } from './sentences';

const BY_VIEW = {
  layers: IN_LAYERS,
  sounds: IN_SOUNDS,
  control: IN_CONTROL,
  mix: IN_MIX,
  check: IN_CHECK,
  stage: ON_STAGE,
} as const;

/** What a thing is: its name, one sentence, and the page of the handbook that tells more. */
export interface Told {
  name: string;
  says: string;
  page: string;
}

const short = (text: string): string => text.replace(/\s+/g, ' ').trim().slice(0, 80);

/** The name by which a thing goes: as a reader of the screen would say it. */
export function nameOf(element: Element): string {
  const label = element.getAttribute('aria-label');
  if (label) return short(label);
  const labels = (element as HTMLInputElement).labels;
  return short(labels?.[0]?.textContent ?? element.textContent ?? '');
}

const viewAt = (path: string): keyof typeof BY_VIEW => {
  const name = path.startsWith('/stage') ? 'stage' : path.split('/')[3];
  return name in BY_VIEW ? (name as keyof typeof BY_VIEW) : 'layers';
};

/** The sheet in which a thing stands, if any. */
function sheetOf(element: Element): Place | undefined {
  const title = element.closest('[role="dialog"]')?.getAttribute('aria-label');
  return Object.values(SHEETS).find((sheet) => sheet.title === title);
}

/** The links to the views say what those are. */
const viewNamed = (element: Element): Place | undefined =>
  element.tagName === 'A' ? Object.values(VIEWS).find(({ title }) => nameOf(element).startsWith(title)) : undefined;

/**
 * What a thing on the page is: by its own title, by what its parameter says, or by its name; what has none of these is
 * told by where it stands.
 */
export function helpFor(element: Element, path: string): Told {
  const view = viewAt(path);
  const sheet = sheetOf(element);
  const page = (sheet ?? VIEWS[view]).page;
  const name = nameOf(element);
  const link = viewNamed(element);
  if (link) return { name: link.title, says: link.says, page: link.page };
  const titled = element.closest('[title]');
  const own = titled && titled.tagName !== 'MAIN' ? titled.getAttribute('title') : null;
  if (own) return { name: name || short(own), says: own, page };
  const known = [...(sheet ? [] : BY_VIEW[view]), ...ANYWHERE].find(([pattern]) => pattern.test(name));
  if (known) return { name, says: known[1], page };
  const { title, says } = sheet ?? VIEWS[view];
  return { name: name || title, says: `In ${title}. ${says}`, page };
}
