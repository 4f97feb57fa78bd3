import { LineError } from './lineError';

test('what is told of a file is one line that can be read, whatever its names hold', () => {
  const { message, place } = new LineError('a\nb', 'holds \u0000\u001b[31m\u202eevil\u2028\ud800 名 ½ “odd”');
  expect(message).toBe('a�b: holds �[31m�evil� 名 ½ “odd”');
  // What looks the place up finds it as it was.
  expect(place).toBe('a\nb');
});

test('it is cut where a name has no end', () => {
  expect(new LineError('', 'x'.repeat(5000)).message).toHaveLength(400);
  expect(new LineError('', 'x'.repeat(400)).message).toBe('x'.repeat(400));
});
