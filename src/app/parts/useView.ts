import { useLocation } from 'react-router';

/** The building view in sight, by its address: `layers`, `sounds`. */
export const useView = (): string => useLocation().pathname.split('/')[3] ?? 'layers';

let last = 'layers';
/** The view that was built in last, for whoever comes back from the Stage. */
export const rememberView = (view: string): void => {
  last = view;
};
export const viewBefore = (): string => last;
