import { useLayoutEffect, useRef, useState, type RefObject } from 'react';
import { isBlackKey } from '../../core/music/pitch';

/**
 * The keys in view: the 88 of a large keyboard. Everything about keys is drawn on this one scale, so the eye drops
 * straight down to them.
 */
export const FIRST_KEY = 21;
export const LAST_KEY = 108;
const COUNT = LAST_KEY - FIRST_KEY + 1;

/**
 * Keys to pixels. As on a real keyboard, all twelve keys of an octave are equally wide where they meet the map (behind
 * the black keys), while in front seven
 * white ones share the octave evenly.
 */
export interface KeyScale {
  width: number;
  /** Width of one key at the back. */
  keyWidth: number;
  /** Left edge of a key. */
  left: (key: number) => number;
  /** Middle of a key; fractions lie between. */
  middle: (key: number) => number;
  /** The key under a pixel, fractional (a whole number is a key's left edge), without limits. */
  keyAt: (x: number) => number;
  /** Left edge of a white key in front. */
  frontLeft: (key: number) => number;
}

export function keyScaleOf(width: number): KeyScale {
  const keyWidth = width / COUNT;
  const scale = (key: number) => (key - FIRST_KEY) * keyWidth;
  const frontLeft = (key: number) => {
    const octave = Math.floor(key / 12);
    const whites = [0, 0, 1, 1, 2, 3, 3, 4, 4, 5, 5, 6][key % 12];
    return key <= FIRST_KEY ? 0 : key > LAST_KEY ? width : scale(octave * 12 + (whites * 12) / 7);
  };
  return {
    width,
    keyWidth,
    left: scale,
    middle: (key) => scale(key + 0.5),
    keyAt: (x) => FIRST_KEY + x / keyWidth,
    frontLeft,
  };
}

export const WHITE_KEYS = Array.from({ length: COUNT }, (_, i) => FIRST_KEY + i).filter((key) => !isBlackKey(key));
export const BLACK_KEYS = Array.from({ length: COUNT }, (_, i) => FIRST_KEY + i).filter(isBlackKey);

/** The key meant by a drag to a pixel: beyond the ends of the view, the ends of all keys. */
export function draggedKey(scale: KeyScale, x: number): number {
  if (x <= 0) return 0;
  if (x >= scale.width) return 127;
  return Math.floor(scale.keyAt(x));
}

/** The width of an element, kept up to date. */
export function useWidth<T extends Element>(): [RefObject<T | null>, number] {
  const ref = useRef<T | null>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return undefined;
    const measure = () => setWidth(element.getBoundingClientRect().width);
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
