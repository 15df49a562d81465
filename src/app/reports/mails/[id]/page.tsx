import { notFound } from "next/navigation";
import { RefusedError } from "@/services/admin";
import { openMail } from "@/services/report";
import { MailView } from "@/ui/reports/mail-view";
import { ReportTabs } from "@/ui/reports/tabs";
import { actor, services } from "../../../services";

export const metadata = { title: "Mail · Umbrik" };

type Props = { params: Promise<{ id: string }> };

export default async function Page({ params }: Props) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  try {
    const mail = await openMail(services(), actor(), Number(id));
    return (
      <div className="px-4 py-3">
        <ReportTabs />
        <h1 className="sr-only">A mail</h1>
        <MailView subject={mail.subject} html={mail.html} text={mail.text} to={mail.address} />
      </div>
    );
  } catch (error) {
    if (error instanceof RefusedError) notFound();
    throw error;
  }
}
