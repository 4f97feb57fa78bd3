import { typedAhead } from './typedAhead';

const press = (key: string, more: Partial<Pick<KeyboardEvent, 'ctrlKey' | 'metaKey' | 'altKey'>> = {}) =>
  typedAhead.keep({ key, ctrlKey: false, metaKey: false, altKey: false, ...more });

test('keys are kept for a field from when it is asked for to when it is there, and for nothing else', () => {
  expect(press('a')).toBe(false);
  typedAhead.begin();
  expect([...'felx'].map((key) => press(key))).toEqual([true, true, true, true]);
  expect([press('Backspace'), press('t'), press('ArrowDown'), press('z', { ctrlKey: true })]).toEqual([
    true,
    true,
    false,
    false,
  ]);
  expect(typedAhead.take()).toEqual({ text: 'felt', entered: false });
  expect([press('a'), typedAhead.take()]).toEqual([false, { text: '', entered: false }]);
});

test('after Enter nothing is added, and no letter becomes a shortcut', () => {
  typedAhead.begin();
  press('m');
  expect([press('Enter'), press('s'), press('Escape')]).toEqual([true, true, false]);
  expect(typedAhead.take()).toEqual({ text: 'm', entered: true });
});
