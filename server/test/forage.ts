import type { DesignChange } from '@bibliona/core';

/** Which plants grow at which apiaries: a link of the tables `sites` and `plants`. */
export const forageLink: DesignChange = {
  kind: 'add_link',
  id: 'forage',
  name: 'Apiaries and plants',
  form: 'fm_forage',
  list: 'l_forage',
  together: 'u_forage',
  sides: [
    { table: 'sites', relationship: 'r_forage', shownAs: 'Forage', field: 'f_site', fieldName: 'Apiary' },
    { table: 'plants', relationship: 'r_found', shownAs: 'Found at', field: 'f_plant', fieldName: 'Plant' },
  ],
};
