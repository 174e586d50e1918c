import { useLayoutEffect, useRef, useState } from "react";

/** The air path is so much higher than its folded band, and a little. */
const GAIN_PX = 200;
/** Further down than this the bench is what counts; far enough that what is looked at can stay where it is. */
const DOWN_PX = GAIN_PX + 20;

/**
 * Whether the air path is folded to a thin band: once the bench is scrolled down, until it is back at its top or the band is
 * touched. A bench that would fit without scrolling then is left alone: it would jump to and fro.
 */
export function useFolding(place: string) {
  const [state, setState] = useState({ place, folded: false, held: false });
  const here = state.place === place ? state : { place, folded: false, held: false };
  const before = useRef<{ main: HTMLElement; top: number; scrolled: number } | undefined>(undefined);
  // The bench grows upwards: what stood under the finger stays there. Near its end the browser has already moved a higher
  // bench by itself, so what counts is how far it was scrolled before.
  useLayoutEffect(() => {
    const was = before.current;
    before.current = undefined;
    if (!here.folded || !was) return;
    was.main.scrollTop = was.scrolled - Math.max(0, was.top - was.main.getBoundingClientRect().top);
  }, [here.folded]);
  return {
    folded: here.folded,
    fold: (main: HTMLElement) => {
      const room = main.scrollHeight - main.clientHeight;
      if (!here.folded && !here.held && main.scrollTop > DOWN_PX && room > DOWN_PX + 20) {
        before.current = { main, top: main.getBoundingClientRect().top, scrolled: main.scrollTop };
        setState({ place, folded: true, held: false });
      } else if (here.folded && main.scrollTop <= 0) setState({ place, folded: false, held: false });
      else if (here.held && main.scrollTop <= 0) setState({ place, folded: false, held: false });
    },
    unfold: () => setState({ place, folded: false, held: true }),
  };
}
