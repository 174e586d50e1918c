import { type RefObject, useEffect, useRef, useState } from "react";

/** How wide a place is, in px: drawings are drawn for it, so that their letters keep their size on a phone. */
export function useWidth<Place extends Element>(
  before: number,
  most = Number.POSITIVE_INFINITY,
): [RefObject<Place | null>, number] {
  const place = useRef<Place>(null);
  const [width, setWidth] = useState(before);
  useEffect(() => {
    if (!place.current) return;
    const watch = new ResizeObserver(
      ([box]) => box && box.contentRect.width > 0 && setWidth(Math.floor(box.contentRect.width)),
    );
    watch.observe(place.current);
    return () => watch.disconnect();
  }, []);
  return [place, Math.min(width, most)];
}
