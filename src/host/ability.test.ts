import { VECTORS } from './ability';

test('the module by which vectors are looked for is whole, and one without its end is not', () => {
  expect(WebAssembly.validate(VECTORS)).toBe(true);
  expect(WebAssembly.validate(VECTORS.slice(0, -1))).toBe(false);
});
