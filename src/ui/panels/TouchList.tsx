"use client";
import { ArrowLeft, Eye, EyeOff, Trash2 } from "lucide-react";
import { useBench, useBenchState } from "../bench/context";
import { Button, IconButton } from "../parts/Button";

/** The touches of the open plate, newest on top; each can be switched off or taken away. */
export function TouchList() {
  const bench = useBench();
  const id = useBenchState((s) => s.plate)!;
  const touches = useBenchState((s) => s.recipe.plates[id].touches);
  return (
    <section aria-label="Touches">
      <div className="flex h-9 items-center justify-between pr-2 pl-3.5">
        <h2 className="font-semibold text-dim">Touches</h2>
      </div>
      <div className="px-3.5 pb-2">
        <Button className="w-full" onClick={() => bench.openPlate(null)}>
          <ArrowLeft size={14} aria-hidden /> Back to the shot
        </Button>
      </div>
      {touches.length === 0 && <p className="px-3.5 pb-2 text-dim">No touch yet. Paint on the plate; every stroke is listed here.</p>}
      <ul>
        {touches
          .map((t, i) => ({ t, i }))
          .reverse()
          .map(({ t, i }) => {
            const off = t.on === false;
            return (
              <li key={t.id} className="flex items-center pr-2 pl-3.5 hover:bg-raised">
                <span className="num w-7 text-[12px] text-dim">{i + 1}</span>
                <span className={off ? "flex-1 text-dim line-through" : "flex-1"}>
                  {t.kind}
                  <span className="num ml-2 text-[12px] text-dim">{t.brush ? `${t.brush.size} px` : ""}</span>
                </span>
                <IconButton
                  name={off ? "Switch this touch on" : "Switch this touch off"}
                  side="right"
                  onClick={() => bench.commit(`Switch a touch ${off ? "on" : "off"}`, (d) => void (d.plates[id].touches[i].on = off))}
                >
                  {off ? <EyeOff size={14} /> : <Eye size={14} />}
                </IconButton>
                <IconButton
                  name="Delete this touch"
                  side="right"
                  onClick={() => bench.commit("Delete a touch", (d) => void d.plates[id].touches.splice(i, 1))}
                >
                  <Trash2 size={14} />
                </IconButton>
              </li>
            );
          })}
      </ul>
    </section>
  );
}
