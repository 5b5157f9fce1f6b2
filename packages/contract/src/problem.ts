import { z } from "zod";

/** What the API answers when it cannot do what was asked. One shape for all. */
export const problem = z
  .object({
    code: z.string().describe("Stable name of the kind of problem"),
    message: z.string().describe("What happened and what to do, in plain words"),
    issues: z
      .array(z.object({ path: z.string().describe("Where in the body, such as events.0.data.text"), message: z.string() }))
      .describe("One entry per field or rule that is to blame"),
  })
  .meta({ id: "Problem" });
export type Problem = z.infer<typeof problem>;
