"use client";
import { useState } from "react";
import { Button } from "../kit/button";

export type MailViewProps = { subject: string; html: string; text: string; to?: string };

/** A mail as its reader sees it, as HTML or as plain text. The frame runs nothing and may go nowhere. */
export function MailView({ subject, html, text, to }: MailViewProps) {
  const [isPlain, setIsPlain] = useState(html === "");
  return (
    <article aria-label="The mail" className="rounded-brick border border-lines bg-raised">
      <header className="flex items-center gap-3 border-lines border-b px-3 py-1.5">
        <p className="min-w-0 flex-1 truncate" title={subject}>
          {to && <span className="text-soft">{to} · </span>}
          <b data-testid="subject">{subject}</b>
        </p>
        {html !== "" && (
          <Button look="quiet" className="h-6! px-1! text-[13px] print:hidden" onClick={() => setIsPlain(!isPlain)}>
            {isPlain ? "as HTML" : "as plain text"}
          </Button>
        )}
      </header>
      {isPlain ? (
        <pre className="overflow-auto whitespace-pre-wrap p-3 text-[13px]">{text}</pre>
      ) : (
        <iframe
          title={subject}
          sandbox="allow-popups"
          srcDoc={html.replace("<head>", '<head><base target="_blank">')}
          className="h-[520px] w-full bg-[#f6f3ec] print:h-[1400px]"
        />
      )}
    </article>
  );
}
