import { lazy, type ComponentType, type LazyExoticComponent } from 'react';
import { untilThere } from '../document/late';

/** A part of the page that comes when it is needed: `of` names it in what is fetched. See {@link untilThere}. */
export const late = <There, Props>(
  fetchIt: () => Promise<There>,
  of: (there: There) => ComponentType<Props>,
): LazyExoticComponent<ComponentType<Props>> => lazy(async () => ({ default: of(await untilThere(fetchIt)) }));
