/** What the tests use of the package, which has no types of its own. */
declare module 'xlsx-populate' {
  interface Cell {
    value(): unknown;
    value(value: unknown): Cell;
  }
  interface Sheet {
    name(): string;
    cell(address: string): Cell;
    usedRange(): { value(): unknown[][] };
    column(name: string): { hidden(): boolean };
  }
  interface Workbook {
    sheet(place: number | string): Sheet;
    outputAsync(options?: { readonly password?: string }): Promise<Buffer>;
  }
  const library: {
    fromDataAsync(bytes: Uint8Array): Promise<Workbook>;
    fromFileAsync(path: string): Promise<Workbook>;
    fromBlankAsync(): Promise<Workbook>;
  };
  export default library;
}
