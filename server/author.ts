/** Who writes, for which firm, and when. */
export interface Author {
  firmId: string;
  memberId: string;
  now: Date;
}
