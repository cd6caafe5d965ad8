export { demoDesign } from './design.js';
export { demoFiles, demoSizes, type DemoFile, type DemoSize } from './files.js';
export { hiveDrawing } from './drawings.js';
export { flatFile, flatSheet } from './flat-sheet.js';
