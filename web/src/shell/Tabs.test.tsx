import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { Tabs } from "./Tabs";

const items = [
  { key: "a", name: "First", says: "2" },
  { key: "b", name: "Second", mark: "off" as const },
];

describe("tabs", () => {
  it("say which one is open, with a count and the gravest mark beside the names", () => {
    const html = renderToStaticMarkup(
      <Tabs label="Parts" items={items} chosen="b" choose={() => undefined}>
        <p>two</p>
      </Tabs>,
    );
    expect(html).toContain("First");
    expect(html.match(/two/g)).toHaveLength(1);
    expect(html).toMatch(/aria-selected="true"[^>]*>Second/);
  });
});
