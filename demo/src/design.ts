/** The design of the Quillmoor Honey Co-operative, as the changes its builder made. */
import type { DesignChange } from '@bibliona/core';
import { automations } from './design/automations.js';
import { diagram } from './design/diagram.js';
import { access } from './design/people.js';
import { hiveWork } from './design/hive-work.js';
import { honey } from './design/honey.js';
import { formsWithButtons, lists, published } from './design/lists.js';
import { questions } from './design/questions.js';
import { routes } from './design/routes.js';
import { screens } from './design/screens.js';
import { selling } from './design/selling.js';
import { treatments } from './design/treatments.js';

export const demoDesign: readonly DesignChange[] = [
  ...hiveWork,
  ...honey,
  ...selling,
  ...treatments,
  ...questions,
  ...screens,
  ...lists,
  ...access,
  ...published,
  ...routes,
  ...automations,
  ...formsWithButtons,
  ...diagram,
];
