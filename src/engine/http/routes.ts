import type { Parts } from "../compose";
import { cutRoutes } from "./cutting";
import { eventRoutes } from "./events";
import { historyRoutes } from "./history";
import { keepingRoutes } from "./keeping";
import { mediaRoutes } from "./media";
import { plateRoutes } from "./plates";
import { productionRoutes } from "./productions";
import { renderRoutes } from "./renders";
import type { Route } from "./route";
import { shotRoutes } from "./shots";
import { takeRoutes } from "./takes";

/** Everything the engine answers to, a file a subject. */
export const routesOf = (parts: Parts): Route[] =>
  [productionRoutes, mediaRoutes, takeRoutes, shotRoutes, historyRoutes, cutRoutes, plateRoutes, renderRoutes, keepingRoutes, eventRoutes].flatMap(
    (routes) => routes(parts),
  );
