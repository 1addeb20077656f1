import { BenchPage } from "@/ui/bench/BenchPage";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <BenchPage id={(await params).id} />;
}
