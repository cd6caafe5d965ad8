/** The public face of core. Other packages know nothing but what is named here. */
export { AppDesignShape } from './design/design.js';
export { parseDesign, emptyDesign, storedDesign, DesignInvalid } from './parts/parse.js';
export { applyChanges, changesInPieces } from './parts/change.js';
export type { Pieces } from './parts/pieces.js';
export { designFromFile } from './parts/from-file.js';
export type { DesignDifference } from './parts/difference.js';
export { isGone } from './parts/apart.js';
export { besidesOf, isFarReaching } from './parts/besides.js';
export { differencesOf } from './parts/differences.js';
export { canMake, namingField, planProblems, thingsProblem } from './import/plan-problems.js';
export { versionsOf, type VersionRow } from './parts/versions.js';
export { inTheWay } from './parts/apart.js';
export type { DesignChange } from './parts/design-change.js';
export { describeChange } from './parts/describe.js';
export { designMessage, type DesignIssue } from './parts/issues.js';
export {
  childrenOf,
  fieldOf,
  formFor,
  hasOwnNumber,
  knownTable,
  linksOf,
  listFor,
  namedForm,
  namedList,
  NotInDesign,
  otherSide,
  parentOf,
  relationshipOf,
  shownTables,
  sidesOf,
  tableOf,
  type LinkSide,
} from './design/read.js';
export { freeName, freeSlug, slugOf } from './shapes/slug.js';
export {
  isFillable,
  isGiven,
  canOrderRows,
  isOpenInPlace,
  isStored,
  MapAddress,
  partLists,
  teamRole,
  type AppDesign,
  type Field,
  type Grant,
  type PartName,
  type Relationship,
  type Role,
  type StoredField,
  type Table,
  type Tie,
} from './design/design.js';
export {
  afterAdding,
  Form,
  formSizes,
  imagesOn,
  itemKey,
  largestFormImage,
  mostBelow,
  mostSteps,
  PublicForm,
  type ButtonDoes,
  type FormItem,
  type FormItemOf,
  type RowFill,
} from './design/form.js';
export type { Page } from './design/page.js';
export { Published } from './design/published.js';
export { arrangementLeft, Arrangement, fieldOfArrangement, furtherFields, type ArrangementKind } from './design/arrangement.js';
export { summedFields, List, mostFrozen, mostLevels, mostOrders, mostSums, mostTones, type RowTone, plainList, type Sort } from './design/list.js';
export { isDay } from './parts/list.js';
export { canNarrow } from './parts/can-narrow.js';
export { narrowingNode, valueNode } from './parts/narrowing.js';
export { grouped, NotInList, onPaper, picked } from './query/listed.js';
export { addressAs, addressOf, addressParts, noAddress, readAddress, type Address } from './fields/address.js';
export type { DiagramNote, Section } from './design/diagram.js';
export { choicesOf, tones, type Choice, type Tone } from './fields/choice.js';
export {
  fieldKindNames,
  fieldKinds,
  FieldPlan,
  kindOf,
  canRepeat,
  kindsToLoad,
  loadKinds,
  parseValue,
  printValue,
  proposedKind,
  shownExpression,
  typedValue,
  type FieldKind,
} from './fields/kinds.js';
export { mostQuickFilters } from './design/saved-query.js';
export { hasOwnColumns, summaries, type QueryColumn, type QueryOrder, type RowSource, type SavedQuery, type Summary } from './design/saved-query.js';
export { paperSizes, type Report, type ReportField, type ReportGroup } from './design/report.js';
export { gridColumns, isChart, labelOfTile, type Chart, type Dashboard, type Judgement, type Tile, type TileOf } from './design/dashboard.js';
export { triggers, type Automation, type Recipient, type Step, type StepOf, type StepValue } from './design/automation.js';
export { tableWritten } from './design/automation.js';
export { statusKinds, type Move, type Route, type StatusKind } from './design/route.js';
export { everyPage, tablesOfPage } from './parts/pages.js';
export { questionOf, rowSourceId } from './parts/row-sources.js';
export { itemsOfReading, readingsOf, type FormReading, type Picked } from './parts/form-over.js';

export { countShown, printComputed, printTyped, type ShownNumber } from './fields/computed.js';
export { unitOf } from './expression/unit.js';
export { unitOfPart } from './expression/check.js';
export { allCurrencies, currencyName, currencyOf, unitMark, unitMarked, type Unit } from './values/units.js';
export { endingOf, fileProblem, filesAs, filesIn, imageEndings, isImage, largestFile, type HeldFile } from './fields/files.js';
export { writtenNumber } from './fields/running-number.js';
export { idsAs, idsIn } from './fields/several-choices.js';
export { mapAddressOf, placeAs, pointOf, type Point } from './fields/place.js';
export { meAsValue, personAs, personIn, type NamedPerson } from './fields/person.js';
export { longestPath, signatureBox, signatureIn, whenSigned, type Signature } from './fields/signature.js';
export { documentIn, richTextAs, type RichDocument, type RichMark, type RichNode } from './fields/rich-text.js';
export { isReference, written, type Parsed, type ReferenceValue, type Typed, type Value } from './fields/value.js';
export { countryCodes, countryName, countryOf } from './values/countries.js';
export { isoOf, parseDate, type DateOrder } from './values/dates.js';
export { parseNumber, type NumberStyle } from './values/numbers.js';
export { localeOf, standardLocale, type Locale } from './values/locale.js';
export { defaultRegion, regionName, regionOf, regions, type Region } from './values/regions.js';

export { relatedTables, type RelatedFormula, type RelatedTable } from './parts/related-formulas.js';
export { captionFields, expressionsOf, isAlignedRight, usesOf, typeOfField } from './parts/expressions.js';
export { designSql } from './migration/design-sql.js';
export { tablesToClose } from './migration/closing.js';
export { whereUsed, type Use } from './parts/where-used.js';
export { partKind } from './parts/kinds.js';
export type { ExpressionPlace, TargetName } from './parts/part.js';
export { wantedColumn, wantedValue } from './parts/wanted.js';
export { complete, type Completion, type Completions } from './expression/complete.js';
export { format } from './expression/format.js';
export { inWords } from './expression/in-words.js';
export {
  comparisons,
  areAlike,
  canCompare,
  pathOfMine,
  comparisonsOf,
  comparisonWords,
  noRows,
  textOfRows,
  typeOfPath,
  type Comparison,
  type Group,
  type Row,
} from './expression/condition-rows.js';
export { rowsOfText } from './expression/read-condition.js';
export { check, expressionParser } from './expression/check.js';
export { type Checked, type Scope } from './expression/scope.js';
export { wants, type Wanted } from './feel/wants.js';
export { constantDefault, shown, startValue, valueFor, writtenValue, type Circumstances } from './expression/bring.js';
export { writtenText } from './feel/write.js';
export { evaluate, type RecordSource, type Surroundings } from './expression/evaluate.js';
export { NotAtHand, TooMuch } from './expression/not-computed.js';
export { ExpressionCompiler, rowOf } from './expression/compile.js';
export type { SqlSurroundings } from './expression/sql-surroundings.js';
export { deviations, type Deviation } from './feel/deviations.js';
export { builtIns, leftOut } from './feel/functions/functions.js';
export { Label } from './shapes/shapes.js';
export { groups, type BuiltIn, type Given, type Made } from './feel/functions/function.js';
export { readText, type Piece } from './expression/merge-text.js';
export { membersOf, type Member } from './expression/names.js';
export { feelName } from './feel/names.js';
export { dependenciesOf, everyNode, type Dependency } from './expression/rename.js';
export { tablesRead } from './expression/tables-read.js';
export { sqlLibrary } from './feel/sql-library.js';
export { describeType, type Type } from './feel/types.js';
export { type Feel, type RecordValue } from './feel/value.js';
export type { Node } from './expression/node.js';
export type { Problem } from './feel/syntax.js';

export { ident, literal, SqlBuilder, statement, type Statement } from './sql/sql.js';
export { difference } from './migration/difference.js';
export {
  beginPrepared,
  compilePreparedCount,
  compileFill,
  compileStretch,
  forgetPrepared,
  preparedColumns,
  preparedName,
  preparedNames,
  type LeftOver,
  type PreparedColumn,
} from './migration/prepared.js';
export { rearranged, type Rearranged } from './rearrange/rearranged.js';
export { Rearrangement } from './rearrange/plans.js';
export { Impossible, type PreparedMoves, type Renumbering } from './rearrange/rearrangement.js';
export { compileRepeats, repeatsOf, type TableRepeat } from './rearrange/table-repeats.js';
export { canBeTable, cannotGo } from './rearrange/cannot-go.js';
export { canMerge, isAlike, proposedMerge } from './rearrange/merge-tables.js';
export { viewChange } from './migration/views.js';
export type { SetAside, Migration, MigrationStep } from './migration/migration.js';

export { everything, Narrowing, queryOf, type Condition, type Cursor, type Query, type RestrictedQuery, type Sight } from './query/query.js';
export {
  compileComputed,
  compileCount,
  compileFailing,
  compileFrequent,
  compileMeeting,
  compileMeetingOf,
  type RecordState,
  compilePage,
  compilePlace,
  compileStatistics,
  compileKeys,
  compileValues,
} from './query/compile.js';
export { compileCaptions, compileFound, compileLookup, compileNearest } from './query/lookup.js';
export {
  compileLedger,
  compilePaper,
  compilePickable,
  canGroupBy,
  compileResult,
  compileResultGroups,
  compileTotals,
  type ResultGroup,
  type AskedTotal,
  type PickableValue,
  type RowsRead,
} from './query/result.js';
export { arrangementOf, columnNeeds, madeBy } from './query/arranged.js';
export { ColumnNarrowing, dayTypes, everyRow, mostPickedValues, pickedTypes, valuesPicked, type PickedRows } from './query/picked-rows.js';
export {
  givesAmount,
  totalShown,
  canTotal,
  isDrawn,
  isSummedUp,
  ledgerOf,
  readQuery,
  shownType,
  type AskedColumn,
  type AskedQuery,
  type LedgerStep,
  type QueryProblem,
} from './query/saved.js';
export {
  asBuilder,
  circumstancesOf,
  grantOf,
  localeFor,
  mayDesign,
  menuOf,
  permit,
  permitMove,
  restrict,
  restrictForExport,
  restrictForMail,
  restrictForWrite,
  restrictForRules,
  rightsOf,
  sightOf,
  tiesOfRole,
  type Permit,
  type Person,
  type TableRights,
} from './access/access.js';
export type { RecordAction } from './access/link-sight.js';
export { memberships, type Membership } from './access/membership.js';

export { arrangements } from './report/arrangements.js';
export { type ReportColumn } from './report/band.js';
export { checkPages, rowsOnPaper, totalsOnPaper, type PageFinding } from './report/check-pages.js';
export { paperOf, type Box, type DrawingBox, type Face, type Measure, type Page as ReportPage, type Paper, type TextBox } from './report/page.js';
export { layOut, paginate, type Sheet } from './report/paginate.js';

export { judge, reachesTarget, scaleOf } from './dashboard/figure.js';
export { behind, chartOrder, chartQuestion } from './dashboard/tile.js';

export {
  askedByLetter,
  askedOf,
  conditionOf,
  effectOf,
  isAddress,
  letterOf,
  mayStart,
  setOffBy,
  type FieldEffect,
  type Letter,
  type RecordEvent,
  type StepEffect,
} from './workflow/automation.js';
export { guardOf } from './routes/guard.js';
export { isEnd, mayMove, routeOf, startOf, statusesOf, type Status } from './routes/route.js';
export { checkRoute, fixesOf, withKind, type RouteFinding } from './routes/check-route.js';

export { fieldOfConstraint, indexesOf, isOfItself, togetherOfConstraint } from './migration/columns.js';
export { storedPart } from './migration/stored.js';
export { publicDesign, publicFields, publicForm, publicProblems, visitorOf, type OpenToAll } from './access/public-form.js';
export {
  isPublishedKind,
  publishedColumns,
  publishedPart,
  publishedProblem,
  readerOf,
  tableShown,
  tileName,
  withListForAll,
  type PublishedKind,
  type PublishedPart,
} from './access/published.js';
export { visitorId, visitorWith } from './access/visitor.js';
export { designFor, mayOpen, withheldExpression } from './access/design-for.js';
export { partFormulas, partSeen, type PartSeen } from './access/part-seen.js';
export { accessFindings, type AccessFinding } from './access/findings.js';
export { emptiesMet, leavesOutEmpty, withoutEmpties } from './expression/empties.js';
export { grantsInQuestion } from './access/explain.js';
export { csvLine, recordHeading, withoutGuard } from './export/csv.js';
export { wallClock } from './export/wall.js';
export { cutMark, exportFormats, exportFormatNames, type ExportFormatName } from './export/formats.js';
export { checksOf, checksOfParents, fieldsRead, relationshipsLookedAt, type AskedCheck } from './checks/checks.js';
export { checkRecord, fieldIssue, fixedIssues, stored, type RecordIssue } from './record/check.js';
export { compileBatch, compileChildHistory, compileHistory, compileLastChanged, compileRemoved, compileSaved, historyTable } from './record/history.js';
export {
  compileAdd,
  compileChange,
  compileChanges,
  compileChildren,
  compileCopy,
  compileHold,
  compileImported,
  compileAdded,
  compilePlaces,
  compileRemove,
  compileRestore,
  compileStart,
  compileStayed,
  compileTakeBack,
  madeKey,
  placesPerWrite,
  type ChangeOfMany,
  type Values,
  type WritePlace,
} from './record/write.js';

export { columnNumber, fileFormatOf, fileFormats, FileReading, rangeOf, type FileFormatName, type Range, type ReadingChoice } from './import/reading.js';
export { columnNames, encodings, sniffDelimiter, sniffEncoding, sniffHeading, sniffTitles, type Encoding } from './import/sniff.js';
export { delimiters, QuoteNeverClosed, RowSplitter, RowTooLong, splitRows, type Delimiter } from './import/split.js';
export { RepeatFinder, type Repeats, type RepeatedColumn, type RepeatedThing } from './import/repeats.js';
export { ColumnTally, newKinds, plainReading, type ColumnSurvey } from './import/survey.js';
export type { Reading } from './fields/kind.js';
export { copyCell, rowConverter, type CellColumn, type Complaint, type NumberedRow, type RowConverterOptions } from './import/convert.js';
export type { CaptionIndex } from './fields/kind.js';
export { namesIn } from './import/names.js';
export { byFields, byNumber, keyOf, Matching, plainMatching, rowModes, type FinderProblem, type KeyIndex, type RecordFinder } from './import/matching.js';
export { computedProblem, rowComputer, rowDesign, rowTable } from './import/computed-columns.js';
export { planParts, type PlanPart } from './import/plan-parts.js';
export { type ThingPlan } from './import/thing-plan.js';
export { folded } from './import/dependencies.js';
export { asRepeated, changesOf, changesRecords, ImportPlan, suggestField, suggestPlan, type ColumnPlan, type ComputedColumn } from './import/plan.js';

export type { Route as HttpRoute, RouteAccess } from './contract/route.js';
export { RefusalAnswer, type PlacedIssue, type RefusalCode, type RefusalDetails } from './contract/refusal.js';
export * as contract from './contract/contract.js';
export type { Session, SignedIn } from './contract/people.js';
export { LiveEvent } from './contract/live.js';
export { tablesShowing, tablesTouched } from './record/touched.js';
export type { ListColumns } from './contract/list-views.js';
export type { Placed } from './contract/placement.js';
export { KeptList, type RowsPicked, type AskedSelection, type Selection } from './contract/selection.js';
export { mostOwnLists } from './contract/own-lists.js';
export { mostOwnLinks, mostOwnSections, mostRecent, OwnSections, type NamedLink, type OwnLink, type OwnMenu, type OwnSection } from './contract/own-menu.js';
export { mostTold, type CommentsAnswer } from './contract/comments.js';
export { leastFillTime, type PublicFormAnswer } from './contract/public-forms.js';
export { mostPublishedRows, publishedFor, publishedRows, type PublishedRows } from './contract/published.js';
export type { MyInvitation } from './contract/invitations.js';
export type { ServerAnswer, ServerPerson } from './contract/server.js';
export type { AppSummary, DesignTarget, LogEntry, NamedRecord, OpenApp, StepAnswer } from './contract/apps.js';
export {
  mostWrites,
  Conflict,
  mostPicked,
  type FieldStatistics,
  type ChildEntry,
  type HistoryEntry,
  type Removed,
  type TakenBack,
  type OpenRecord,
  type GroupAnswer,
  type GroupLevels,
  type RecordAnswer,
  type SaveAnswer,
  type Write,
  givesValues,
  type ValueWrite,
  type WrittenValue,
} from './contract/records.js';
export { mostRowsRead, type QueryResult, type ResultColumn } from './contract/queries.js';
export type * from './contract/answers.js';
export { fileRouteNames, fileRoutes, mostMadeFiles, rowsInBackground, type FileRouteName, type MadeFile } from './contract/made-files.js';
export { FileSurvey, type ImportAnswer, type ImportPreview } from './contract/imports.js';
