import { SelectField, Tick } from "../shell/fields";
import { Trouble } from "./controller";

interface Scene {
  preset?: string;
  presets?: { [name: string]: string }[];
  reachable?: boolean;
}

/** What a simulated device plays: for trying out, and for learning. `name`: as a sentence goes on with it. */
export function SimulatedScene({
  name,
  scene,
  change,
  error,
}: {
  name: string;
  scene: Scene;
  change: (given: { preset?: string; reachable?: boolean }) => void;
  error: unknown;
}) {
  const options = (scene.presets ?? []).map((each) => ({ key: each.key ?? "", name: each.name ?? "" }));
  return (
    <details>
      <summary className="touch flex cursor-pointer items-center font-semibold">
        What the simulated {name} plays
      </summary>
      <div className="space-y-2">
        <SelectField
          className="max-w-md"
          label="What is wrong with it (it starts anew)"
          value={scene.preset ?? ""}
          onChange={(preset) => change({ preset })}
          options={options}
        />
        <Tick value={scene.reachable ?? true} onChange={(reachable) => change({ reachable })}>
          The {name} answers
        </Tick>
        <Trouble error={error} />
      </div>
    </details>
  );
}
