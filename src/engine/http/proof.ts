import { takeIds } from "../../recipe/query";
import { NAME_HEADER } from "../../wire/layout";
import type { ReportForm } from "../../wire/proof";
import { Reporting } from "../usecases/reporting";
import type { Parts } from "../compose";
import type { Watch } from "../watch";
import type { Answers } from "./answer";

/** What is still wrong in shots. */
export function proofAnswers(parts: Parts): Pick<Answers, "prove" | "report" | "productionReport"> {
  const { documents, takes, shots, proofs, tasks } = parts;
  const reporting = new Reporting(parts);
  const file = ({ text, name }: { text: string; name: string }, as: ReportForm) =>
    new Response(text, { headers: { "content-type": TYPES[as], [NAME_HEADER]: encodeURIComponent(name) } });
  const watched = <T>(task: string | undefined, work: (watch: Watch) => Promise<T>) => (task ? tasks.run(task, work) : work({}));
  return {
    report: async ({ params: { id }, query: { as, task } }) => file(await watched(task, (watch) => reporting.ofShot(id, as, watch)), as),
    productionReport: async ({ params: { id }, query: { as, task } }) =>
      file(await watched(task, (watch) => reporting.ofProduction(id, as, watch)), as),
    async prove({ params: { id }, body: { task } }) {
      await takes.whole(takeIds((await documents.read(id)).recipe));
      const spec = await shots.forJob(id);
      return tasks.run(task, (watch) => proofs.of(spec, watch));
    },
  };
}

const TYPES: Record<ReportForm, string> = { html: "text/html; charset=utf-8", csv: "text/csv; charset=utf-8", json: "application/json" };
