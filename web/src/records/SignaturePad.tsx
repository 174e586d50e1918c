import { type PointerEvent, useRef } from "react";
import { drawnOn, type Point, pointIn, type Strokes } from "./strokes";

const WIDTH = 300;
const HEIGHT = 90;

/** A box to sign in with a finger, a pen or the mouse. */
export function SignaturePad({
  strokes,
  onChange,
}: {
  strokes: Strokes;
  onChange: (strokes: Strokes) => void;
}) {
  const drawing = useRef(false);
  const latest = useRef(strokes);
  latest.current = strokes;
  const at = (event: PointerEvent<SVGSVGElement>): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return pointIn(event.clientX - box.left, event.clientY - box.top, box.width, box.height);
  };
  const change = (next: Strokes) => {
    latest.current = next;
    onChange(next);
  };
  return (
    <div>
      <p className="mb-1">Sign with a finger (or leave it empty: your name then stands there typed)</p>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="block w-full touch-none rounded-box border border-base-300 bg-white"
        role="img"
        aria-label={strokes.length > 0 ? "Your signature as drawn" : "Box to sign in, empty"}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drawing.current = true;
          change([...latest.current, [at(event)]]);
        }}
        onPointerMove={(event) => drawing.current && change(drawnOn(latest.current, at(event)))}
        onPointerUp={() => {
          drawing.current = false;
        }}
        onPointerCancel={() => {
          drawing.current = false;
        }}
      >
        <line x1={16} x2={WIDTH - 16} y1={72} y2={72} stroke="#ded6c7" />
        {strokes.map((line, index) => (
          <polyline
            // biome-ignore lint/suspicious/noArrayIndexKey: lines are only added, or all taken away
            key={index}
            points={line.map(([x, y]) => `${x * WIDTH},${y * HEIGHT}`).join(" ")}
            fill="none"
            stroke="#1c2624"
            strokeWidth={2}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        ))}
      </svg>
      {strokes.length > 0 && (
        <button type="button" className="btn btn-ghost touch" onClick={() => change([])}>
          Draw it anew
        </button>
      )}
    </div>
  );
}
