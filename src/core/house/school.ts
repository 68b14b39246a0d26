/** Where practitioners differ, each side as a named choice. The first school of a question is the default. */
export interface School<V> {
  id: string;
  name: string;
  /** What is done, in plain words. */
  plain: string;
  /** What it costs, in time or in risk. */
  costs: string;
  /** Who works this way. */
  heldBy: string;
  values: V;
}

export interface SchoolQuestion<V = unknown> {
  key: string;
  question: string;
  schools: readonly [School<V>, ...School<V>[]];
}
