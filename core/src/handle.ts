/** A number that is shown on the model and dragged there: a dimension of a primitive, a parameter of a step. */
export interface ModelHandle {
  /** Key of the number in its schema, which says its range and unit. */
  key: string;
  label: string;
  /** Its place and the direction it is pulled, in the piece's own frame, mm. */
  at: [number, number, number];
  along: [number, number, number];
  /** Change of the number per millimetre pulled: centred dimensions grow both ways. */
  rate: number;
  /** The number, where it is not the parameter itself, and what another one changes; positive, mm. */
  derived?: { value: number; put(value: number): Record<string, unknown> };
}
