/** The value in the middle. */
export const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** One figure of the bench beside its bar. */
export const row = (name: string, value: string, bar: string, met: boolean) =>
  console.log(`${met ? 'met   ' : 'MISSED'}  ${name.padEnd(58)} ${value.padStart(12)}   bar: ${bar}`);
