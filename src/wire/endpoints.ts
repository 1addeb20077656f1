import { z } from "zod";
import { get, post } from "./endpoint";
import { jobSchema, renderRequestSchema, renderedSchema } from "./job";
import { logSchema, unnamedSchema } from "./keeping";
import { cutOutAnswerSchema, cutOutRequestSchema } from "./cut-out";
import { cameraAnswerSchema, cameraRequestSchema, followAnswerSchema, followRequestSchema } from "./follow";
import { grainAnswerSchema, grainRequestSchema, lightRequestSchema, lookAnswerSchema, lookRequestSchema } from "./match";
import { addStillsSchema, cacheRequestSchema, cacheSchema, dependentsSchema, mediaFolderSchema, mediaQuerySchema, mediaRootsSchema, placeTakeSchema, useMediaSchema } from "./media"; // prettier-ignore
import { addPictureSchema, alignedSchema, alignRequestSchema, buildRequestSchema, builtInfoSchema, colourAnswerSchema, colourRequestSchema, findRequestSchema, maskQuerySchema, outsideAnswerSchema, outsideEndSchema, outsideRequestSchema, pictureAnswerSchema, pictureQuerySchema, seenSchema, surveyAnswerSchema } from "./plate"; // prettier-ignore
import { proofAnswerSchema, proofRequestSchema, reportQuerySchema } from "./proof";
import { preferencesSchema } from "./preferences";
import { addTakeSchema, copiesSchema, cutRequestSchema, editAnswerSchema, editRequestSchema, exportedSchema, goBackSchema, historySchema, newProductionSchema, orderRequestSchema, shotSchema, soundQuerySchema, stateSchema, stepRequestSchema, stillQuerySchema } from "./shot"; // prettier-ignore
import { takeNoteSchema, takeSchema, takeTurnSchema } from "./take";

/** Nothing but that it was done. */
const done = z.object({});

/** Everything that can be asked of the engine: method, path, what is sent, what is answered. Web, engine and pages all go by this table. */
export const ENDPOINTS = {
  // the first page
  state: get("/state", { answer: stateSchema }),
  addProduction: post("/productions", { body: newProductionSchema, answer: z.object({ id: z.string() }) }),
  putNoticeAway: post("/notices/:id/away", { answer: done }),
  takeDependents: get("/takes/:id/dependents", { answer: dependentsSchema }),
  productionDependents: get("/productions/:id/dependents", { answer: dependentsSchema }),
  removeTake: post("/takes/:id/remove", { answer: done }),
  removeProduction: post("/productions/:id/remove", { answer: done }),
  cache: get("/cache", { answer: cacheSchema }),
  changeCache: post("/cache", { body: cacheRequestSchema, answer: cacheSchema }),
  unnamed: get("/unnamed", { answer: unnamedSchema }),
  clearUnnamed: post("/unnamed/clear", { answer: unnamedSchema }),
  log: get("/log", { answer: logSchema }),
  copies: get("/copies", { answer: copiesSchema }),
  goBack: post("/copies/back", { body: goBackSchema, answer: done }),
  events: get("/events", { answer: null, asker: "web" }),

  // footage
  mediaRoots: get("/media", { answer: mediaRootsSchema }),
  mediaFolder: get("/media/list", { query: mediaQuerySchema, answer: mediaFolderSchema }),
  useMedia: post("/media/use", { body: useMediaSchema, answer: takeSchema }),
  addTake: post("/takes", { body: addTakeSchema, answer: takeSchema, asker: "web" }),
  addStills: post("/stills", { body: addStillsSchema, answer: takeSchema, asker: "web" }),
  take: get("/takes/:id", { answer: takeSchema, asker: "web" }),
  placeTake: post("/takes/:id/place", { body: placeTakeSchema, answer: done }),
  noteTake: post("/takes/:id/note", { body: takeNoteSchema, answer: takeSchema }),
  turnTake: post("/takes/:id/turn", { body: takeTurnSchema, answer: takeSchema }),
  orderStills: post("/takes/:id/order", { body: orderRequestSchema, answer: done }),
  makeBlock: post("/takes/:id/blocks/:k", { answer: done, asker: "web" }),
  checkQuick: post("/takes/:id/quick", { answer: done, asker: "web" }),
  sound: get("/takes/:id/sound", { query: soundQuerySchema, answer: null }),
  survey: get("/takes/:id/survey", { answer: surveyAnswerSchema }),

  // shots
  shot: get("/shots/:id", { answer: shotSchema }),
  edit: post("/shots/:id/edits", { body: editRequestSchema, answer: editAnswerSchema }),
  step: post("/shots/:id/steps", { body: stepRequestSchema, answer: editAnswerSchema }),
  history: get("/shots/:id/history", { answer: historySchema }),
  exported: get("/shots/:id/recipe", { answer: exportedSchema, asker: "web" }),
  still: get("/shots/:id/still", { query: stillQuerySchema, answer: null }),
  cut: post("/shots/:id/cut", { body: cutRequestSchema, answer: z.object({ ids: z.array(z.string()) }) }),
  neighbour: get("/shots/:id/join", { answer: z.object({ name: z.string().nullable() }) }),
  join: post("/shots/:id/join", { answer: done }),

  // plates, and what is measured for a page
  find: post("/shots/:id/find", { body: findRequestSchema, answer: seenSchema }),
  build: post("/shots/:id/build", { body: buildRequestSchema, answer: builtInfoSchema }),
  align: post("/shots/:id/align", { body: alignRequestSchema, answer: alignedSchema }),
  grain: post("/shots/:id/grain", { body: grainRequestSchema, answer: grainAnswerSchema }),
  light: post("/shots/:id/light", { body: lightRequestSchema, answer: grainAnswerSchema }),
  report: get("/shots/:id/report", { query: reportQuerySchema, answer: null }),
  productionReport: get("/productions/:id/report", { query: reportQuerySchema, answer: null }),
  prove: post("/shots/:id/proof", { body: proofRequestSchema, answer: proofAnswerSchema }),
  cutOut: post("/shots/:id/cutout", { body: cutOutRequestSchema, answer: cutOutAnswerSchema }),
  follow: post("/shots/:id/follow", { body: followRequestSchema, answer: followAnswerSchema }),
  camera: post("/shots/:id/camera", { body: cameraRequestSchema, answer: cameraAnswerSchema }),
  colour: post("/shots/:id/colour", { body: colourRequestSchema, answer: colourAnswerSchema }),
  stopTask: post("/tasks/:id/stop", { answer: done }),
  picture: get("/shots/:id/picture", { query: pictureQuerySchema, answer: null }),
  maskPicture: get("/shots/:id/mask", { query: maskQuerySchema, answer: null }),
  measured: get("/measured/:hash", { answer: null }),
  grainAnywhere: post("/measured/:hash/anywhere", { answer: grainAnswerSchema }),
  addLook: post("/looks", { body: lookRequestSchema, answer: lookAnswerSchema }),
  addPicture: post("/pictures", { body: addPictureSchema, answer: pictureAnswerSchema, asker: "web" }),
  outside: get("/shots/:id/outside", { query: outsideEndSchema, answer: outsideAnswerSchema }),
  writeOutside: post("/shots/:id/outside", { body: outsideRequestSchema, answer: outsideAnswerSchema }),
  endOutside: post("/shots/:id/outside/end", { body: outsideEndSchema, answer: outsideAnswerSchema }),

  // what is written
  renders: get("/shots/:id/renders", { answer: jobSchema.array() }),
  render: post("/shots/:id/renders", { body: renderRequestSchema, answer: jobSchema }),
  rendered: get("/jobs/:id", { answer: renderedSchema, asker: "web" }),
  stopJob: post("/jobs/:id/stop", { answer: done }),
  jobAgain: post("/jobs/:id/again", { answer: jobSchema }),

  preferences: get("/preferences", { answer: preferencesSchema }),
  storePreferences: post("/preferences", { body: preferencesSchema, answer: preferencesSchema }),
} as const;
export type Endpoints = typeof ENDPOINTS;
export type EndpointName = keyof Endpoints;
