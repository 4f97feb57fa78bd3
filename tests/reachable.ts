/**
 * Controls that are in sight and yet cannot be pressed: of no size, outside the window, or under something else. What a
 * panel scrolls to is scrolled to first.
 */
export const unreachable = (): string[] => {
  const faults: string[] = [];
  const nameOf = (element: Element) =>
    `${element.tagName.toLowerCase()} “${(element.getAttribute('aria-label') ?? element.textContent ?? '').trim().slice(0, 40)}”`;
  for (const element of document.querySelectorAll<HTMLElement>(
    'button, a[href], input, select, textarea, [role="slider"], [role="tab"], [role="option"]',
  )) {
    const style = getComputedStyle(element);
    if (
      element.closest('[hidden], .sr-only, [aria-hidden="true"], [inert], svg') ||
      style.display === 'none' ||
      style.visibility === 'hidden' ||
      style.pointerEvents === 'none' ||
      element.matches('.hidden, [type="file"], [tabindex="-1"], :disabled')
    )
      continue;
    if (element.getClientRects().length === 0) continue;
    element.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    const box = element.getBoundingClientRect();
    if (box.width < 4 || box.height < 4) {
      faults.push(`${nameOf(element)} is ${Math.round(box.width)} × ${Math.round(box.height)}`);
      continue;
    }
    const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
    // All of it, not only where it would be pressed: a button that is cut off is one that nobody reads.
    if (box.left < -1 || box.top < -1 || box.right > innerWidth + 1 || box.bottom > innerHeight + 1) {
      faults.push(`${nameOf(element)} is outside, at ${Math.round(x)}, ${Math.round(y)}`);
      continue;
    }
    const top = document.elementFromPoint(x, y);
    if (
      top &&
      top !== element &&
      !element.contains(top) &&
      !top.contains(element) &&
      !(element instanceof HTMLInputElement && top.closest('label')?.contains(element))
    )
      faults.push(`${nameOf(element)} lies under ${nameOf(top)}`);
  }
  return faults;
};
