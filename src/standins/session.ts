/** Bits of the standard event status register (IEEE 488.2, 11.5.1). */
export const OPERATION_COMPLETE = 1;
const QUERY_ERROR = 4;
const DEVICE_ERROR = 8;
const EXECUTION_ERROR = 16;
const COMMAND_ERROR = 32;

/** Bits of the status byte (IEEE 488.2, 11.2; SCPI-99, 9). */
const ERROR_AVAILABLE = 4;
const EVENT_SUMMARY = 32;
export const SERVICE_REQUEST = 64;

/** Errors that are kept; after that the newest says that there were more. */
const MOST_ERRORS = 20;

/** Errors a command can earn, by their standard numbers (SCPI-99, 21.8). */
const ERRORS = {
  [-104]: 'Data type error',
  [-109]: 'Missing parameter',
  [-113]: 'Undefined header',
  [-222]: 'Data out of range',
  [-224]: 'Illegal parameter value',
  [-350]: 'Queue overflow',
} as const;
export type ErrorNumber = keyof typeof ERRORS;

/** What one connection to an instrument remembers: the output it speaks to, its status and its errors, which are nobody else's. */
export class ScpiSession {
  output = 1;
  eventEnable = 0;
  serviceEnable = 0;
  #events = 0;
  #errors: ErrorNumber[] = [];

  /** Notes an event; says nothing. */
  note(bit: number): null {
    this.#events |= bit;
    return null;
  }

  fail(error: ErrorNumber): void {
    this.note(
      error > -200
        ? COMMAND_ERROR
        : error > -300
          ? EXECUTION_ERROR
          : error > -400
            ? DEVICE_ERROR
            : QUERY_ERROR,
    );
    if (this.#errors.length < MOST_ERRORS) this.#errors.push(error);
    else this.#errors[MOST_ERRORS - 1] = -350;
  }

  /** The oldest error, taken from the queue. */
  nextError(): string {
    const error = this.#errors.shift();
    return error === undefined ? '0,"No error"' : `${error},"${ERRORS[error]}"`;
  }

  get errorCount(): number {
    return this.#errors.length;
  }

  /** The events since they were last asked for; asking clears them. */
  takeEvents(): number {
    const events = this.#events;
    this.#events = 0;
    return events;
  }

  get statusByte(): number {
    const byte =
      (this.#errors.length > 0 ? ERROR_AVAILABLE : 0) |
      ((this.#events & this.eventEnable) !== 0 ? EVENT_SUMMARY : 0);
    return byte | ((byte & this.serviceEnable) !== 0 ? SERVICE_REQUEST : 0);
  }

  /** `*CLS`: events and errors are gone, what is enabled stays. */
  clear(): null {
    this.#events = 0;
    this.#errors = [];
    return null;
  }
}
