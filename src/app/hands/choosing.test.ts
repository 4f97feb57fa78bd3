import { chosenAfter, pointingOf } from './choosing';

const order = ['a', 'b', 'c', 'd'];

describe('choosing several layers', () => {
  it('takes one alone by a plain click, whatever was chosen', () => {
    expect(chosenAfter(order, { selected: 'a', together: ['a', 'b'] }, 'b', 'alone')).toEqual({
      selected: 'b',
      together: [],
    });
  });

  it('takes one more, or one less, with Control', () => {
    const two = chosenAfter(order, { selected: 'a', together: [] }, 'c', 'more');
    expect(two).toEqual({ selected: 'c', together: ['a', 'c'] });
    expect(chosenAfter(order, two, 'c', 'more')).toEqual({ selected: 'a', together: [] });
    expect(chosenAfter(order, { selected: 'a', together: [] }, 'a', 'more')).toEqual({ selected: 'a', together: [] });
  });

  it('takes all between with Shift, in either direction', () => {
    expect(chosenAfter(order, { selected: 'b', together: [] }, 'd', 'between')).toEqual({
      selected: 'b',
      together: ['b', 'c', 'd'],
    });
    expect(chosenAfter(order, { selected: 'd', together: [] }, 'b', 'between')).toEqual({
      selected: 'd',
      together: ['b', 'c', 'd'],
    });
    expect(chosenAfter(order, { selected: 'b', together: [] }, 'b', 'between')).toEqual({
      selected: 'b',
      together: [],
    });
  });

  it('reads the keys that are held', () => {
    const none = { ctrlKey: false, metaKey: false, shiftKey: false };
    expect(
      [none, { ...none, shiftKey: true }, { ...none, metaKey: true }, { ...none, ctrlKey: true }].map(pointingOf),
    ).toEqual(['alone', 'between', 'more', 'more']);
  });
});
