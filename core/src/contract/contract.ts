/** Every route of the HTTP interface, by name. A route that is not here does not exist. */
export { askReset, changeProfile, changePassword, endSessions, readReset, readSessions, resetPassword, setUp, signIn, signOut, whoAmI } from './people.js';
export { changeServerPerson, readServer } from './server.js';
export {
  changeDesign,
  countRecords,
  compareVersions,
  designLog,
  listApps,
  listStarters,
  makeApp,
  openApp,
  previewChanges,
  previewRestore,
  readChangeUnderWay,
  restoreDesign,
  stopChange,
  undoDesign,
  useStarter,
} from './apps.js';
export {
  countPage,
  readPlace,
  exportRecords,
  printRecords,
  lookUp,
  lookUpPeople,
  readHistory,
  readLast,
  readNearest,
  readGroups,
  readNeighbours,
  readQuickFilters,
  readPage,
  readRecord,
  readRemoved,
  readRepeats,
  readStatistics,
  readFrequent,
  saveRecords,
  searchRecords,
  takeBackSave,
  tryExpression,
} from './records.js';
export { addComment, changeComment, readComments, removeComment } from './comments.js';
export { readPublishedList, readPublishedReport, readPublishedTile } from './published.js';
export { countPublicForm, readPublicForm, readPublicImage, sendPublicForm } from './public-forms.js';
export { readFile, readFreeFile, uploadFile } from './files.js';
export { makeFile, readMadeFile, readMadeFiles, removeMadeFile } from './made-files.js';
export { cancelImport, readImport, runImport, surveyImport, takeBackImport, uploadImport } from './imports.js';
export { exportQuery, printQuery, readQuery, readQueryGroups, readQueryValues, tryQuery } from './queries.js';
export { printReport, readReport, tryReport } from './reports.js';
export { keepColumns } from './list-views.js';
export { keepOwnList, removeOwnList } from './own-lists.js';
export { keepOwnMenu, noteOpened, readOwnMenu } from './own-menu.js';
export { placeTables, readPlacement } from './placement.js';
export { readLive } from './live.js';
export { countStatuses, readMoves, readWaiting, walkRoute } from './workflow.js';
export { readRuns, tryAutomation } from './automations.js';
export { readMail, readMails, sendMailAgain } from './mails.js';
export { readBehind, readTile, tryTile } from './dashboards.js';
export { changePerson, explainAccess, invite, readPeople, removePerson, restorePerson, withdrawInvitation } from './access.js';
export { acceptInvitation, answerInvitation, joinByLink, myInvitations, readInvitation } from './invitations.js';
