export const PAGES: number;
export const BYTES: number;
export function roomier(module: Uint8Array): Buffer;
