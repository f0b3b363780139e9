/** A figure with its central 90 %. */
export interface Figure {
  value: number;
  low: number;
  high: number;
}
