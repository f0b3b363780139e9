import { describe, expect, it } from "vitest";
import { filterFrom, placeFrom, placeText } from "./filter";

const id = "01a210c7-c5dc-7796-b5c6-dbadf9a06972";
const filter = (text: string) => filterFrom(new URLSearchParams(text));

describe("the book's address", () => {
  it("says what is looked for", () => {
    expect(
      filter(`q=%20spa%20&basin=${id}&finding=totalAlkalinity.low&from=2026-05-01&to=2026-05-31`),
    ).toEqual({
      text: "spa",
      basinId: id,
      memberId: null,
      finding: "totalAlkalinity.low",
      from: "2026-05-01",
      to: "2026-05-31",
    });
  });

  it("leaves out what makes no sense", () => {
    expect(filter("basin=1&member=x&finding=drop%20table&from=2026-06-31&to=yesterday")).toEqual({
      text: "",
      basinId: null,
      memberId: null,
      finding: null,
      from: null,
      to: null,
    });
  });

  it("goes on where a page ended", () => {
    const place = { startedAt: new Date("2026-05-01T10:00:00.123Z"), id };
    expect(placeFrom(new URLSearchParams({ after: placeText(place) }))).toEqual(place);
    expect(placeFrom(new URLSearchParams({ after: "never" }))).toBeNull();
  });
});
