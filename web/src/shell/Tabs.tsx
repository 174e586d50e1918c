import type { ReactNode } from "react";
import { Tabs as AriaTabs, Tab, TabList, TabPanel } from "react-aria-components";
import { type MarkName, VerdictMark } from "./VerdictMark";

export interface TabItem {
  key: string;
  name: string;
  /** Its gravest mark, so that one sees where to look. */
  mark?: MarkName | undefined;
  /** A short word or count beside the name. */
  says?: string | undefined;
}

/** One set of tabs for the whole interface: arrow keys move, the chosen one's content stands below. */
export function Tabs({
  label,
  items,
  chosen,
  choose,
  disabled = false,
  look = "page",
  children,
}: {
  label: string;
  items: TabItem[];
  chosen: string;
  choose: (key: string) => void;
  disabled?: boolean;
  /** `page`: a line of names with a stroke under the chosen one; `keys`: keys of one size. */
  look?: "page" | "keys";
  children?: ReactNode;
}) {
  return (
    <AriaTabs
      selectedKey={chosen}
      onSelectionChange={(key) => choose(String(key))}
      isDisabled={disabled}
      keyboardActivation="manual"
      className={children === undefined ? "" : "space-y-4"}
    >
      <TabList
        aria-label={label}
        items={items.map((item) => ({ ...item, id: item.key }))}
        className={
          look === "page"
            ? "flex flex-wrap gap-1 border-base-300 border-b"
            : "grid auto-cols-fr grid-flow-col gap-1"
        }
      >
        {(item) => (
          <Tab id={item.key} className={({ isSelected }) => (look === "page" ? page : key)(isSelected)}>
            {item.name}
            {item.says && <span className="rounded bg-base-200 px-1.5 text-sm">{item.says}</span>}
            {item.mark && <VerdictMark mark={item.mark} size={18} />}
          </Tab>
        )}
      </TabList>
      {items.map((item) => (
        <TabPanel key={item.key} id={item.key} className="outline-none">
          {item.key === chosen ? children : null}
        </TabPanel>
      ))}
    </AriaTabs>
  );
}

const page = (selected: boolean): string =>
  `touch flex cursor-pointer items-center gap-1.5 rounded-t border-b-4 px-1.5 text-sm wide:px-3 wide:text-base ${
    selected ? "border-primary font-semibold" : "border-transparent hover:bg-base-200"
  }`;

const key = (selected: boolean): string => `btn touch px-1 leading-tight ${selected ? "btn-primary" : ""}`;
