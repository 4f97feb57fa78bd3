import { focusGets, type Focus } from './keys';

const nothing: Focus = {
  field: 'none',
  inMenu: false,
  isGrip: false,
  isSelect: false,
  pressable: false,
  visible: false,
};
const untouched: Focus = { ...nothing, field: 'untouched', visible: true };
const touched: Focus = { ...nothing, field: 'touched', visible: true };
const clicked: Focus = { ...nothing, pressable: true };
const reached: Focus = { ...clicked, visible: true };
const gets = (key: string, focus: Focus, control = false) => focusGets({ key, control, alt: false }, focus);

test.each([
  // key, nothing has the focus, untouched field, touched field, button after a click, button reached by keyboard
  ['5', false, true, true, false, false],
  ['ArrowUp', false, true, true, false, false],
  ['ArrowDown', false, true, true, false, false],
  ['m', false, true, true, false, false],
  ['Delete', false, true, true, false, false],
  [' ', false, false, true, false, true],
  ['PageDown', false, false, true, false, false],
] as const)('%s', (key, page, inUntouched, inTouched, afterClick, byKeyboard) => {
  expect([nothing, untouched, touched, clicked, reached].map((focus) => gets(key, focus))).toEqual([
    page,
    inUntouched,
    inTouched,
    afterClick,
    byKeyboard,
  ]);
});
test('text is chosen, copied and pasted in a field, touched or not; undo in an untouched one is the rig’s', () => {
  for (const key of ['a', 'c', 'v', 'd'])
    expect([nothing, untouched, touched].map((focus) => gets(key, focus, true))).toEqual([false, true, true]);
  expect([nothing, untouched, touched].map((focus) => gets('z', focus, true))).toEqual([false, false, true]);
});
test('menus and lists keep all their keys; a grip has Space, a drop-down list its letters and arrows', () => {
  for (const key of [' ', 'ArrowUp', 'x', 'PageDown']) expect(gets(key, { ...nothing, inMenu: true })).toBe(true);
  expect([gets(' ', { ...nothing, isGrip: true }), gets('x', { ...nothing, isGrip: true })]).toEqual([true, false]);
  expect([
    gets('b', { ...nothing, isSelect: true }),
    gets('ArrowDown', { ...nothing, isSelect: true }),
    gets(' ', { ...nothing, isSelect: true }),
  ]).toEqual([true, true, false]);
});
