/** What the tests use of the package, which has no types of its own. */
declare module 's3rver' {
  export default class S3rver {
    constructor(options: {
      readonly port: number;
      readonly address: string;
      readonly silent: boolean;
      readonly directory: string;
      readonly configureBuckets: readonly { readonly name: string }[];
    });
    run(): Promise<{ readonly address: string; readonly port: number }>;
    close(): Promise<void>;
  }
}
