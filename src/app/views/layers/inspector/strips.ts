import type { ReactNode } from 'react';
import type { LayerParameterId } from '../../../../core/rig/parameters';

/** Draws the strip of a parameter of the layer that is shown; another label may say what it is among its neighbours. */
export type StripOf = (id: LayerParameterId, label?: string) => ReactNode;
