let last = 'layers';

/** The building view in sight, or the one that was built in last: for edits made in it, and for who comes from Stage. */
export const rememberView = (view: string): void => {
  last = view;
};
export const viewBefore = (): string => last;
