declare module 'native-duplexpair' {
  import type { Duplex } from 'node:stream';

  /** Two ends of one line within a process: what is written to one is read at the other. */
  export default class DuplexPair {
    readonly socket1: Duplex;
    readonly socket2: Duplex;
  }
}
