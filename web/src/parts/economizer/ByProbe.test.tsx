import { renderToStaticMarkup as drawn } from "react-dom/server";
import { describe, expect, it } from "vitest";

import { ByProbe } from "./ByProbe";

describe("what the probe alone says", () => {
  it("is nothing where all is well, or nobody compared", () => {
    expect(drawn(<ByProbe points={{}} />)).not.toContain("panel");
    const well = { cooled: true, air_moves: "moves", open_when_shut: false } as const;
    expect(drawn(<ByProbe points={well} />)).not.toContain("panel");
  });
  it("names blades that stand once, though they stand open", () => {
    const html = drawn(<ByProbe points={{ air_moves: "stands", open_when_shut: true }} />);
    expect(html).toContain("the mixed air stayed as it was");
    expect(html).toContain("Power locked out");
    expect(html.match(/class="panel/g)).toHaveLength(1);
  });
  it("says a coil that does not cool, blades that turn the wrong way, and blades that are not shut", () => {
    const html = drawn(<ByProbe points={{ cooled: false, air_moves: "backwards", open_when_shut: true }} />);
    expect(html).toContain("no colder than the mixed air");
    expect(html).toContain("turns the wrong way");
    expect(html).toContain("comes in with the damper shut");
  });
});
