import { renderToStaticMarkup as drawn } from "react-dom/server";
import { describe, expect, it } from "vitest";

import { ByProbe } from "./ByProbe";

describe("what the probe alone says", () => {
  it("is nothing where all is well, or nobody compared", () => {
    expect(drawn(<ByProbe found={undefined} />)).not.toContain("panel");
    const well = { cooled: true, air_moves: "moves", open_when_shut: false, opens_short: false } as const;
    expect(drawn(<ByProbe found={well} />)).not.toContain("panel");
  });
  it("names blades that stand once, though they stand open", () => {
    const html = drawn(<ByProbe found={{ air_moves: "stands", open_when_shut: true, opens_short: true }} />);
    expect(html).toContain("the mixed air stayed as it was");
    expect(html).toContain("Power locked out");
    expect(html.match(/class="panel/g)).toHaveLength(1);
  });
  it("says a coil that does not cool, blades that turn the wrong way, and blades that are not shut", () => {
    const html = drawn(<ByProbe found={{ cooled: false, air_moves: "backwards", open_when_shut: true }} />);
    expect(html).toContain("no colder than the mixed air");
    expect(html).toContain("turns the wrong way");
    expect(html).toContain("comes in with the damper shut");
    const short = drawn(<ByProbe found={{ air_moves: "moves", opens_short: true }} />);
    expect(short).toContain("Too little outdoor air");
  });
  it("says by how little the airs differ, and when to come back", () => {
    const html = drawn(<ByProbe found={{ alike: true, apart_k: 2.14 }} />);
    expect(html.match(/class="panel/g)).toHaveLength(1);
    expect(html.replace(/<[^>]*>/g, "")).toMatch(/only (2\.1 K|3\.9 °F)(.*) apart/);
    expect(drawn(<ByProbe found={{ alike: false, apart_k: 14 }} />)).not.toContain("panel");
  });
});
