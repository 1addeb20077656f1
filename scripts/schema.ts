/** Writes the recipe's JSON Schema to docs/recipe.schema.json. */
import { writeFileSync } from "node:fs";
import { z } from "zod";
import { recipeSchema } from "../src/recipe/schema";

const schema = z.toJSONSchema(recipeSchema, { io: "input", unrepresentable: "any" });
writeFileSync(
  new URL("../docs/recipe.schema.json", import.meta.url),
  JSON.stringify({ title: "Umber Moth recipe, version 1", ...schema }, null, 2) + "\n",
);
