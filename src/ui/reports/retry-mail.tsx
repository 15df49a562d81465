"use client";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { useAttempt } from "../kit/use-attempt";

export function RetryMail({ id }: { id: number }) {
  const attempt = useAttempt();
  return (
    <Button
      className="h-6! px-2! text-[13px]"
      disabled={attempt.isBusy}
      onClick={() => void attempt.run(() => ask(`/api/mails/${id}/retry`, { method: "POST", body: {} }))}
    >
      try again
    </Button>
  );
}
