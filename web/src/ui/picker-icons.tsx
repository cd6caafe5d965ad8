import { CaretDownIcon, XIcon } from '@phosphor-icons/react';

/** The house's own signs in a picker of one or several things. */
export const pickerIcons = {
  popupIcon: <CaretDownIcon size={16} />,
  clearIcon: <XIcon size={14} />,
  slotProps: { chip: { size: 'small', deleteIcon: <XIcon size={12} /> } },
} as const;
