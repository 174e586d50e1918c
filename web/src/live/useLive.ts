import { createContext, useContext, useEffect, useMemo, useSyncExternalStore } from "react";
import { type LiveState, LiveStream } from "./stream";
import type { Channel } from "./types";

export const LiveContext = createContext<LiveStream | undefined>(undefined);

const NONE: LiveState = { on: false, picture: undefined, version: 0 };
const never = () => () => undefined;
const none = () => NONE;

/** The stream of a visit, open while its page is. A closed visit has none. */
export function useLiveStream(visitId: string, closed: boolean): LiveStream | undefined {
  const stream = useMemo(
    () => (closed ? undefined : new LiveStream(`/api/v1/visits/${visitId}/live`)),
    [visitId, closed],
  );
  useEffect(() => {
    stream?.start();
    return () => stream?.stop();
  }, [stream]);
  return stream;
}

export function useLive(): LiveState & { stream: LiveStream | undefined } {
  const stream = useContext(LiveContext);
  const state = useSyncExternalStore(stream?.subscribe ?? never, stream?.snapshot ?? none);
  return { ...state, stream };
}

/** Channels that hang at a station, or in the hand for "". */
export function useChannelsAt(station: string): Channel[] {
  const { picture } = useLive();
  return picture?.channels.filter((channel) => channel.station === station) ?? [];
}
