/** Who writes, for which firm, and when. */
export interface Author {
  firmId: string;
  memberId: string;
  now: Date;
}

/** As a visit tells it. */
export interface NamedAuthor extends Author {
  memberName: string;
}
