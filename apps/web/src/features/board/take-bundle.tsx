import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { PackageOpen } from "lucide-react";
import { useTakeBundleMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { Button } from "../../ui/button.tsx";
import { Notice } from "../../ui/notice.tsx";

/** Takes in a job that another shop has packed as one file. */
export function TakeBundle() {
  const input = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const [take, { isLoading }] = useTakeBundleMutation();
  const [wrong, setWrong] = useState("");
  const read = async (file: File): Promise<void> => {
    setWrong("");
    const answer = await take(file);
    if ("error" in answer) setWrong(`${file.name}: ${failureOf(answer.error).message}`);
    else void navigate(`/jobs/${answer.data.jobId}/record`);
  };
  return (
    <>
      <Button look="quiet" isDisabled={isLoading} onPress={() => input.current?.click()}>
        <PackageOpen size={18} aria-hidden /> {isLoading ? "Reading the bundle …" : "Import a job"}
      </Button>
      <input
        ref={input}
        type="file"
        accept="application/zip,.zip"
        aria-label="Bundle of a job"
        hidden
        onChange={(e) => {
          const file = e.currentTarget.files?.[0];
          e.currentTarget.value = "";
          if (file !== undefined) void read(file);
        }}
      />
      {wrong === "" ? null : (
        <Notice tone="danger" title="Not taken in">
          {wrong}
        </Notice>
      )}
    </>
  );
}
