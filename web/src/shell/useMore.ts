import { useState } from "react";

interface PageOf<Item> {
  items: Item[];
  more: string | null;
}

/** A list that comes page by page: the first is there, the next ones come when asked for. */
export function useMore<Item>(
  first: Item[],
  more: string | null | undefined,
  next: (from: string) => Promise<PageOf<Item>>,
) {
  const [fetched, setFetched] = useState<{ after: string; pages: PageOf<Item>[] }>({ after: "", pages: [] });
  const [trouble, setTrouble] = useState("");
  const begins = more ?? "";
  const pages = fetched.after === begins ? fetched.pages : [];
  const from = pages.length > 0 ? pages[pages.length - 1]?.more : more;
  const showMore = async () => {
    if (!from) return;
    try {
      const page = await next(from);
      setFetched({ after: begins, pages: [...pages, page] });
      setTrouble("");
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "The next ones could not be fetched.");
    }
  };
  return {
    items: [...first, ...pages.flatMap((page) => page.items)],
    more: Boolean(from),
    showMore,
    trouble,
  };
}
