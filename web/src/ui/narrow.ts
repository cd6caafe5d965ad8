import useMediaQuery from '@mui/material/useMediaQuery';

/** A screen as narrow as a phone's, where a row becomes two lines and the menu hides behind its button. */
export const useIsNarrow = (): boolean => useMediaQuery('screen and (max-width: 719px)', { noSsr: true });
