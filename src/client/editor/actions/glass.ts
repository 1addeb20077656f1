import { needsViewing } from "../../../core/look/viewing";
import type { Preferences } from "../../../wire/preferences";
import { keepLook } from "../../api";
import type { Painter } from "../../picture/painter";
import { loadLook } from "../../picture/measured";
import { prefer, preferences } from "../../preferences";
import { bare } from "../names";
import { takeOf } from "../state/select";
import type { ViewState } from "../state/view";
import type { EditorCore } from "./core";

type ProductionLook = Preferences["looks"][string];

/** What the picture on the screen is seen through: the production's look, and a harder way to look. Neither is ever rendered. */
export function createGlass(
  { get, set, refresh, notices }: Pick<EditorCore, "get" | "set" | "refresh" | "notices">,
  painter: Pick<Painter, "through">,
) {
  /** The text of the table, by its hash. */
  let text: { of: string; data: string } | null = null;
  const production = () => get().shot.production.id;
  const look = (): ProductionLook | null => preferences.getState().looks[production()] ?? null;
  /** How the shot's take is tagged, where it needs a chain of its own to be looked at. */
  const tagged = () => {
    const colour = takeOf(get()).info?.colour;
    return colour && needsViewing(colour.transfer) ? colour : null;
  };

  async function show(): Promise<void> {
    const now = look();
    if (now?.on && text?.of !== now.data) text = { of: now.data, data: await loadLook(now.data) };
    const { harder, asRecorded } = get();
    painter.through({
      table: now?.on && text ? { text: text.data, strength: now.strength } : null,
      // what differs in time is another picture, not another way to see one
      harder: harder === "time" ? null : harder,
      tagged: asRecorded ? null : tagged(),
    });
    refresh();
  }
  const shown = () => show().catch((e: unknown) => notices.problem((e as Error).message));
  async function keep(next: ProductionLook | null): Promise<void> {
    const { [production()]: _, ...others } = preferences.getState().looks;
    await prefer({ looks: next ? { ...others, [production()]: next } : others });
  }
  const kept = (next: ProductionLook | null) => keep(next).catch((e: unknown) => notices.problem((e as Error).message));

  /** Looks in one way, or as usual. */
  function see(how: ViewState["harder"]): void {
    set({ harder: how });
    void shown();
  }

  return {
    /** Sees the picture through the production's look, as it is now and whenever it changes. @returns what ends that */
    begin(): () => void {
      if (look()?.on || tagged()) void shown();
      return preferences.subscribe((now, before) => {
        if (now.looks[production()] !== before.looks[production()]) void shown();
      });
    },
    /** A `.cube` file becomes the production's look. */
    async choose(file: File): Promise<void> {
      try {
        const { data, title } = await keepLook(await file.text());
        await keep({ name: (title || bare(file.name)).slice(0, 120) || "Look", data, strength: 1, on: true });
      } catch (e) {
        notices.problem((e as Error).message);
      }
    },
    setStrength(strength: number): void {
      const now = look();
      if (now) void kept({ ...now, strength });
    },
    toggle(): void {
      const now = look();
      if (now) void kept({ ...now, on: !now.on });
      else notices.said("The production has no look yet: choose a table of colours (.cube) under “Seen through” below the picture.");
    },
    forget: () => void kept(null),
    /** A PQ, HLG or log take is shown by its bare code values, or as it needs to be looked at. */
    setAsRecorded(asRecorded: boolean): void {
      set({ asRecorded });
      void shown();
    },
    /** Looks harder, or as usual where it is looked at so already. */
    setHarder: (how: NonNullable<ViewState["harder"]>): void => see(get().harder === how ? null : how),
    see,
  };
}
