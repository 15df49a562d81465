import { viewLink } from "@/services/report";
import { LinkPage } from "@/ui/reports/link-page";
import { services } from "../../services";

export const metadata = { title: "Mail · Umbrik" };

type Props = { searchParams: Promise<{ token?: string }> };

export default async function Page({ searchParams }: Props) {
  const { token } = await searchParams;
  const text = typeof token === "string" ? token : "";
  return <LinkPage view={await viewLink(services(), text, "unsubscribe")} token={text} what="unsubscribe" />;
}
