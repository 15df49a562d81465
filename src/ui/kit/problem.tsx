import type { AnswerError } from "./ask";
import { Notice } from "./notice";

/** What was refused, as a whole and line by line; nothing while nothing is. */
export function ProblemNotice({ problem }: { problem: AnswerError | null }) {
  if (!problem) return null;
  return (
    <Notice kind="error">
      {problem.message}
      {problem.fields.length > 0 && (
        <ul className="list-disc pl-5">
          {problem.fields.map(({ path, message }) => (
            <li key={`${path} ${message}`}>{message}</li>
          ))}
        </ul>
      )}
    </Notice>
  );
}
