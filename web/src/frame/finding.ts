/** The finder is opened by a key or by a touch, from any page. */
type Open = () => void;

let open: Open | undefined;

/** Whoever shows the finder says how it is opened. */
export function onFind(how: Open): () => void {
  open = how;
  return () => {
    if (open === how) open = undefined;
  };
}

export const find = (): void => open?.();
