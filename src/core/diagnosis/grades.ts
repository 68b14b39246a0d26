/** What becomes of a battery: back to what it did · light duty or a loan · nothing more. */
export type Grade = 'return' | 'light' | 'none';

/** Lines of the verdict: least share of C20 for each grade, and most loss of charge in a week, share. */
export interface GradeLines {
  return: number;
  light: number;
  weekLoss: number;
}

/** Usual: 80 % is the end of full service. */
export const GRADE_LINES: Readonly<GradeLines> = { return: 0.8, light: 0.5, weekLoss: 0.12 };

/** What a battery is good for, by its capacity (share of C20) and what it loses in a week. One that leaks is good for nothing. */
export function gradeOf(capacity: number, weekLoss: number | null, lines: GradeLines): Grade {
  if (weekLoss !== null && weekLoss > lines.weekLoss) return 'none';
  return capacity >= lines.return ? 'return' : capacity >= lines.light ? 'light' : 'none';
}
