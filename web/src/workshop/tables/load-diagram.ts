/** Loads the diagram: the first script of the page asks for it, and the station draws it. */
export const loadDiagram = () => import('./Diagram.js');
