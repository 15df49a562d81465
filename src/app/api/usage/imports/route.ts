import { person, services } from "@/app/services";
import { imports, RefusedError, receiveImport } from "@/services";
import { answer, decoded, refuseElsewhere } from "../../answer";

export function GET(): Promise<Response> {
  return answer(() => imports(services(), person()));
}

/** Takes a CSV file in as it comes; its name stands in the header `x-file-name`, percent-encoded. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    if (!request.headers.get("content-type")?.startsWith("text/csv")) throw new RefusedError("invalid", "Expected text/csv.");
    if (!request.body) throw new RefusedError("invalid", "The file is empty.");
    const fileName = decoded(request.headers.get("x-file-name") ?? "usage.csv");
    const bytes = request.body as unknown as AsyncIterable<Uint8Array>;
    return { id: await receiveImport(services(), person(), { fileName, bytes }) };
  });
}
