import ical, { type ICalCalendarData, type ICalEventData } from 'ical-generator';

/** RFC 5545, 3.1: no line is longer, its end left out. octets */
const LINE_OCTETS = 75;
const BREAK = '\r\n';
const END = 'END:VCALENDAR';

/**
 * A calendar as a file. The library writes the properties and leaves a calendar's name as it is; it folds a letter at a time, which
 * is nine tenths of a feed's time. Names are escaped and lines are folded here.
 */
export function feedFile(
  calendar: ICalCalendarData & { name: string },
  events: readonly ICalEventData[],
): string {
  const made = ical({ ...calendar, name: escaped(calendar.name) });
  const frame = made.toString();
  if (!frame.endsWith(END)) throw new Error('A calendar without an end.');
  const lines = events.map((event) => made.createEvent(event).toString()).join('');
  return frame.slice(0, -END.length) + lines.split(BREAK).map(folded).join(BREAK) + END;
}

/** RFC 5545, 3.3.11: what would end a value, or begin another. */
const escaped = (text: string): string => text.replaceAll(/[\\;,]/g, String.raw`\$&`);

function folded(line: string): string {
  if (Buffer.byteLength(line) <= LINE_OCTETS) return line;
  let told = '';
  let octets = 0;
  for (const letter of line) {
    octets += Buffer.byteLength(letter);
    if (octets > LINE_OCTETS) {
      told += `${BREAK} `;
      // The space that says so is the first of the next line.
      octets = 1 + Buffer.byteLength(letter);
    }
    told += letter;
  }
  return told;
}
