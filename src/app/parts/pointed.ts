import { createContext, useContext } from 'react';

/** Where the pointer is in the space of keys and velocities; for the readout, and for actions that happen "here". */
export interface Pointed {
  key: number;
  velocity: number;
}

export const PointedContext = createContext<{ pointed: Pointed | null; point: (pointed: Pointed | null) => void }>({
  pointed: null,
  point: () => undefined,
});
export const usePointed = () => useContext(PointedContext);
