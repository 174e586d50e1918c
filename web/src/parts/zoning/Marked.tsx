import { type MarkName, VerdictMark } from "../../shell/VerdictMark";

/** A verdict's mark as a page of the zones shows it. */
export const Marked = ({ mark }: { mark: string }) => <VerdictMark mark={mark as MarkName} size={18} />;
