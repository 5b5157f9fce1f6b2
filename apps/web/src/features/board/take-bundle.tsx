import { useState } from "react";
import { useNavigate } from "react-router";
import { PackageOpen } from "lucide-react";
import { useTakeBundleMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { FileButton } from "../../ui/file-button.tsx";
import { Notice } from "../../ui/notice.tsx";

/** Takes in a job that another shop has packed as one file. */
export function TakeBundle() {
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
      <FileButton
        label="Bundle of a job"
        accept="application/zip,.zip"
        look="quiet"
        isDisabled={isLoading}
        onFiles={([file]) => void read(file!)}
      >
        <PackageOpen size={18} aria-hidden /> {isLoading ? "Reading the bundle …" : "Import a job"}
      </FileButton>
      {wrong === "" ? null : (
        <Notice tone="danger" title="Not taken in">
          {wrong}
        </Notice>
      )}
    </>
  );
}
