/** The ventilator's control connected to the open visit: what it shows, and what is asked of it. */
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../../api/client";
import { ventilatorKey, ventilatorQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import { useAskedDevice } from "../../logbook/device";
import type { Control } from "./useFreshAir";

export type Device = Schemas["VentilatorOut"];
export type Look = Schemas["VentilatorLookOut"];

export const useVentilator = () => {
  const { page } = useVisit();
  return useQuery(ventilatorQuery(String(page.id)));
};

/** Something asked of the control, one after another; its answer is the control as it is then. */
export function useAskedVentilator<Given>(send: (visit: string, given: Given) => Promise<Device>) {
  const { page } = useVisit();
  return useAskedDevice(ventilatorKey(String(page.id)), send);
}

const at = (visit: string) => ({ params: { path: { visit_id: visit } } });

/** Let go of whatever is held, then hold these. */
export const holdOnly = async (visit: string, points: Record<string, number>): Promise<Device> => {
  const free = await releaseAll(visit);
  if (Object.keys(points).length === 0) return free;
  return ask(api.POST("/api/v1/visits/{visit_id}/ventilator/hold", { ...at(visit), body: { points } }));
};

export const releaseAll = (visit: string): Promise<Device> =>
  ask(api.POST("/api/v1/visits/{visit_id}/ventilator/release", at(visit)));

export const startBoost = (visit: string): Promise<Device> =>
  ask(api.POST("/api/v1/visits/{visit_id}/ventilator/boost", at(visit)));

export const enterSettings = (visit: string, control: Control): Promise<Device> =>
  ask(api.POST("/api/v1/visits/{visit_id}/ventilator/settings", { ...at(visit), body: { control } }));

export const changeScene = (visit: string, body: { preset?: string; reachable?: boolean }): Promise<Device> =>
  ask(api.POST("/api/v1/visits/{visit_id}/ventilator/scene", { ...at(visit), body }));

export const lookAround = (visit: string): Promise<Look> =>
  ask(api.GET("/api/v1/visits/{visit_id}/ventilator/look", at(visit)));
