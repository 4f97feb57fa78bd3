import { useLocation } from 'react-router';

/** The building view in sight, by its address: `layers`, `sounds`. */
export const useView = (): string => useLocation().pathname.split('/')[3] ?? 'layers';
