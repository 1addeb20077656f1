import { EditorPage } from "@/ui/editor/EditorPage";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <EditorPage id={(await params).id} />;
}
