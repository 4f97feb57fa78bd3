/**
 * Writes an attribute of something that is drawn with every frame, if it says something else than before: a browser
 * lays out and paints what is written, also where it is the same.
 */
export function write(element: Element | null | undefined, name: string, value: string): void {
  if (element && element.getAttribute(name) !== value) element.setAttribute(name, value);
}

/** The same for whether something is to be seen. */
export function writeHidden(element: HTMLElement | null | undefined, hidden: boolean): void {
  if (element && element.hidden !== hidden) element.hidden = hidden;
}
