let known = 0;

/**
 * How much larger than usual the reader has text: 1 at 16 px. What is laid out by numbers grows by it, as the style
 * sheet does by itself.
 */
export function textScale(): number {
  if (known === 0) known = (Number.parseFloat(getComputedStyle(document.documentElement).fontSize) || 16) / 16;
  return known;
}

/** Icons and marks, drawn by numbers, grow with it as well: the style sheet reads it from here. */
export function tellTextScale(): void {
  const tell = () => {
    known = 0;
    document.documentElement.style.setProperty('--text-scale', String(textScale()));
  };
  tell();
  window.addEventListener('resize', tell);
}
