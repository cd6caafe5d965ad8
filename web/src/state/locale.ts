/** How numbers and dates are written at this screen: as the person chose, else as the app does, else as the browser asks for. */
import { defaultRegion, localeOf, regionOf, type AppDesign, type Locale, type Region } from '@bibliona/core';
import { useEffect } from 'react';

type Home = Pick<AppDesign, 'region' | 'timeZone'>;

const browserZone = Intl.DateTimeFormat().resolvedOptions().timeZone;
/** The region that a new app starts with. */
export const browserRegion = (): Region => regionOf(typeof navigator === 'undefined' ? [] : navigator.languages) ?? defaultRegion;

let chosen: Region | null = null;
let home: Home | null = null;

/** Components read it while they render: they render again when the person or the app changes. */
export const locale = (): Locale => localeOf(chosen ?? home?.region ?? browserRegion(), home?.timeZone ?? browserZone);

/** Uses the region of this person in everything below. */
export function useLocaleOf(person: { readonly region: Region | null } | null): void {
  chosen = person?.region ?? null;
}

/** Uses the region and time zone of this app in everything below. */
export function useLocaleIn(app: Home): void {
  home = app;
  useEffect(() => {
    home = app;
    return () => {
      home = null;
    };
  }, [app]);
}
