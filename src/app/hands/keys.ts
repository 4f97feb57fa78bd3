/** Who gets a key: what has the focus, or the page. One place says so, for every view. */

/** What has the focus, as far as keys go. */
export interface Focus {
  /** A field for text or numbers: `touched` once something was typed in it. */
  field: 'none' | 'untouched' | 'touched';
  /** A menu or an open list. */
  inMenu: boolean;
  /** Something that is put in order by keyboard: Space lifts it. */
  isGrip: boolean;
  /** A list of choices that drops down. */
  isSelect: boolean;
  /** A button, a switch, a tab, a summary, a box to tick. */
  pressable: boolean;
  /** The focus came there by keyboard, and is seen. */
  visible: boolean;
}

const TEXT_TYPES = /^(text|search|number|email|url|tel|password)$/;
const PRESSED_BY_SPACE =
  'button, summary, [role="button"], [role="tab"], [role="switch"], [role="checkbox"], [role="radio"], input[type="checkbox"], input[type="radio"]';

/** What the pointer pressed last: browsers go on showing a focus that came by keyboard when it is then clicked. */
let pressedByPointer: Element | null = null;
if (typeof window !== 'undefined') {
  window.addEventListener(
    'pointerdown',
    (event) => {
      pressedByPointer = event.target instanceof Element ? event.target.closest(PRESSED_BY_SPACE) : null;
    },
    true,
  );
  window.addEventListener(
    'focusin',
    (event) => {
      if (event.target !== pressedByPointer) pressedByPointer = null;
    },
    true,
  );
}

export function focusOf(target: EventTarget | null): Focus {
  const element = target instanceof HTMLElement ? target : null;
  const isText =
    element !== null &&
    (element.isContentEditable ||
      element.tagName === 'TEXTAREA' ||
      (element instanceof HTMLInputElement && TEXT_TYPES.test(element.type)));
  return {
    field: !isText ? 'none' : element.dataset.writing === 'false' ? 'untouched' : 'touched',
    inMenu: element?.closest('[role="menu"], [role="listbox"]') != null,
    isGrip: element?.closest('[aria-roledescription="sortable"]') != null,
    isSelect: element?.tagName === 'SELECT',
    pressable: element?.matches(PRESSED_BY_SPACE) ?? false,
    visible: element !== null && element !== pressedByPointer && element.matches(':focus-visible'),
  };
}

export interface Pressed {
  key: string;
  control: boolean;
  alt: boolean;
}

/**
 * Whether what has the focus gets the key; else it is the page's: the take, the layers, the show. Escape, Ctrl K and
 * Ctrl S are the page's wherever the focus is, and are not asked about.
 */
export function focusGets(
  { key, control, alt }: Pressed,
  { field, inMenu, isGrip, isSelect, pressable, visible }: Focus,
): boolean {
  if (inMenu || field === 'touched') return true;
  // Nothing was typed yet: the next letter is, and text is chosen and copied; but undo is the rig's, and Space, which
  // no number holds, the take's.
  if (field === 'untouched')
    return !(control && /^[zy]$/i.test(key)) && key !== ' ' && key !== 'PageUp' && key !== 'PageDown';
  if (key === ' ') return isGrip || (pressable && visible);
  if (isSelect) return !control && !alt && key !== 'PageUp' && key !== 'PageDown';
  return false;
}
