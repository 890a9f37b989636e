declare module 's3rver' {
  /** A server that speaks S3, for tests. */
  export default class S3rver {
    constructor(options: {
      port: number;
      address: string;
      silent: boolean;
      directory: string;
      configureBuckets: { name: string; configs: string[] }[];
    });
    run(): Promise<{ port: number; address: string }>;
    close(): Promise<void>;
  }
}
