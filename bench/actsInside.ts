/** What a random walk does inside the page: see `walkInside.ts`. */

export interface Walk {
  seed: number;
  acts: number;
  /** Names of what is not pressed: it opens a window of the browser's own, or leaves the page. */
  notPressed: string;
  keys: readonly string[];
  sliderKeys: readonly string[];
  texts: readonly string[];
}

/** So many acts, counted by their kind; each waits until the page has answered the one before. */
export async function act({ seed, acts, notPressed, keys, sliderKeys, texts }: Walk): Promise<Record<string, number>> {
  // A generator of 32 bits (mulberry32), since the page has none of ours.
  let state = seed * 2654435761;
  const share = () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
  const below = (n: number) => Math.floor(share() * n);
  const anyOf = <T>(list: readonly T[]): T => list[below(list.length)];
  const kinds: Record<string, number> = {};
  const refused = new RegExp(notPressed, 'i');
  const nameOf = (element: Element) =>
    element.getAttribute('aria-label') ?? element.getAttribute('title') ?? element.textContent ?? '';
  /** A random element that can be met at its middle. */
  const met = (selector: string): HTMLElement | undefined => {
    const all = document.querySelectorAll<HTMLElement>(selector);
    for (let tries = 0; tries < 8 && all.length > 0; tries++) {
      const element = all[below(all.length)];
      const { left, top, width, height } = element.getBoundingClientRect();
      const over = document.elementFromPoint(left + width / 2, top + height / 2);
      if (width > 0 && over !== null && (element.contains(over) || over.contains(element))) return element;
    }
    return undefined;
  };
  // Pointers that are not there cannot be captured: who captures is remembered here instead.
  let captured: Element | null = null;
  const remember = (element: Element) => {
    captured = element;
  };
  Element.prototype.setPointerCapture = function () {
    remember(this);
  };
  Element.prototype.releasePointerCapture = function () {
    if (captured === this) captured = null;
  };
  Element.prototype.hasPointerCapture = function () {
    return captured === this;
  };
  const point = (type: string, x: number, y: number, pointerType: string, buttons: number, shiftKey = false) => {
    // What is taken out of the page loses its pointer.
    if (captured?.isConnected === false) captured = null;
    const target = captured ?? document.elementFromPoint(x, y) ?? document.body;
    const common = {
      bubbles: true,
      cancelable: true,
      composed: true,
      clientX: x,
      clientY: y,
      button: 0,
      buttons,
      shiftKey,
      view: window,
    };
    target.dispatchEvent(
      new PointerEvent(type, { ...common, pointerId: 1, pointerType, isPrimary: true, pressure: 0.5 }),
    );
    if (pointerType === 'mouse')
      target.dispatchEvent(new MouseEvent(type.replace('pointer', 'mouse'), { ...common, detail: 1 }));
    return target;
  };
  const drag = (fromX: number, fromY: number, toX: number, toY: number, steps: number) => {
    const pointerType = anyOf(['mouse', 'touch', 'pen']);
    const shift = share() < 0.1;
    const target = point('pointerdown', fromX, fromY, pointerType, 1, shift);
    for (let n = 1; n <= steps; n++)
      point(
        'pointermove',
        fromX + ((toX - fromX) * n) / steps,
        fromY + ((toY - fromY) * n) / steps,
        pointerType,
        1,
        shift,
      );
    const lost = share() < 0.05;
    point(lost ? 'pointercancel' : 'pointerup', toX, toY, pointerType, 0, shift);
    if ((captured as Element | null)?.isConnected)
      captured!.dispatchEvent(new PointerEvent('lostpointercapture', { bubbles: true, pointerId: 1 }));
    captured = null;
    return target;
  };
  const press = (element: HTMLElement) => {
    const { left, top, width, height } = element.getBoundingClientRect();
    const [x, y] = [left + width / 2, top + height / 2];
    drag(x, y, x, y, 0);
    element.focus();
    element.click();
  };
  const strike = (target: EventTarget, name: string) => {
    const parts = name.split('+');
    const init = {
      key: parts[parts.length - 1].replace('Space', ' '),
      ctrlKey: parts.includes('Control'),
      shiftKey: parts.includes('Shift'),
      bubbles: true,
      cancelable: true,
      composed: true,
    };
    target.dispatchEvent(new KeyboardEvent('keydown', init));
    target.dispatchEvent(new KeyboardEvent('keyup', init));
  };
  const type = (field: HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement, value: string, event: string) => {
    const { prototype } = field.constructor as unknown as { prototype: object };
    Object.getOwnPropertyDescriptor(prototype, 'value')!.set!.call(field, value);
    field.dispatchEvent(new Event(event, { bubbles: true }));
  };
  const width = () => window.innerWidth,
    height = () => window.innerHeight;
  const doings: [kind: string, weight: number, does: () => void][] = [
    [
      'pressed',
      4,
      () => {
        const what = met('button:not([disabled]), [role="tab"], [role="menuitem"], [role="option"], nav a, summary');
        if (what && !refused.test(nameOf(what))) press(what);
      },
    ],
    [
      'moved by keys',
      2,
      () => {
        const slider = met('[role="slider"]');
        slider?.focus();
        if (slider) for (let n = 0; n < 4; n++) strike(slider, anyOf(sliderKeys));
      },
    ],
    [
      'dragged',
      1,
      () => {
        const slider = met('[role="slider"], [data-testid="keyboard"] rect, svg rect, svg circle');
        if (!slider) return;
        const box = slider.getBoundingClientRect();
        const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
        drag(x, y, x + 200 * (share() - 0.5), y + 200 * (share() - 0.5), 1 + below(6));
      },
    ],
    [
      'dragged anywhere',
      1,
      () => drag(share() * width(), share() * height(), share() * width(), share() * height(), 3),
    ],
    [
      'chosen',
      1,
      () => {
        const list = met('select:not([disabled])') as HTMLSelectElement | undefined;
        if (list && list.options.length > 0) type(list, anyOf([...list.options]).value, 'change');
      },
    ],
    ['keys', 1.5, () => strike(document.activeElement ?? document.body, anyOf(keys))],
    [
      'typed',
      0.7,
      () => {
        const field = met('input:not([type="file"]):not([type="checkbox"]):not([disabled]), textarea') as
          HTMLInputElement | undefined;
        if (!field) return;
        field.focus();
        type(field, anyOf(texts), 'input');
        strike(field, anyOf(['Enter', 'Escape', 'Tab']));
        if (share() < 0.5) field.blur();
      },
    ],
    [
      'switched',
      0.5,
      () => {
        const box = met('input[type="checkbox"], [role="switch"], [role="checkbox"]');
        if (box && !refused.test(nameOf(box))) box.click();
      },
    ],
  ];
  const total = doings.reduce((sum, [, weight]) => sum + weight, 0);
  for (let n = 0; n < acts; n++) {
    let at = share() * total;
    const [kind, , does] = doings.find(([, weight]) => (at -= weight) < 0)!;
    does();
    kinds[kind] = (kinds[kind] ?? 0) + 1;
    // It is answered, and what the answer asks for as well.
    await new Promise((resolve) => setTimeout(resolve));
    if (n % 4 === 3) await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
  }
  return kinds;
}
