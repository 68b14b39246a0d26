/** Moments are ms since the epoch, as the server's clock told them. */
export type Moment = number;
