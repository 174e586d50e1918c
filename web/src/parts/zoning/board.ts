/** The zone board connected to the open visit: what it shows, and what is asked of it. */
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../../api/client";
import { boardKey, boardQuery, zonesQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import { useAskedDevice } from "../../logbook/device";

export type Board = Schemas["BoardOut"];
export type Look = Schemas["LookOut"];

export const useBoard = () => {
  const { page } = useVisit();
  return useQuery(boardQuery(String(page.id)));
};

/** Something asked of the board, one after another; its answer is the board as it is then. */
export function useAskedBoard<Given>(send: (visit: string, given: Given) => Promise<Board>) {
  const id = String(useVisit().page.id);
  return useAskedDevice(boardKey(id), send, [zonesQuery(id).queryKey]);
}

const at = (visit: string) => ({ params: { path: { visit_id: visit } } });

export const callZones = (visit: string, zones: string[]) =>
  ask(api.POST("/api/v1/visits/{visit_id}/zone-board/call", { ...at(visit), body: { zones } }));

export const releaseZones = (visit: string) =>
  ask(api.POST("/api/v1/visits/{visit_id}/zone-board/release", at(visit)));

export const changeScene = (visit: string, body: { preset?: string; reachable?: boolean }) =>
  ask(api.POST("/api/v1/visits/{visit_id}/zone-board/scene", { ...at(visit), body }));

export const setControl = (visit: string, body: { zone: string; calls: boolean }) =>
  ask(api.POST("/api/v1/visits/{visit_id}/zone-board/control", { ...at(visit), body }));

export const lookAround = (visit: string): Promise<Look> =>
  ask(api.GET("/api/v1/visits/{visit_id}/zone-board/look", at(visit)));
