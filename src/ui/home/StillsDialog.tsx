"use client";
import { useState } from "react";
import type { Rate } from "@/client/api";
import { missingNumbers } from "@/client/input/dropped";
import { Button } from "../parts/Button";
import { Modal } from "../parts/Modal";
import { RateField, rateOf } from "./RateField";

/** Several stills were dropped: they become one take, at a rate the user gives. */
export function StillsDialog({ files, onClose, onUse }: { files: File[]; onClose: () => void; onUse: (rate: Rate) => void }) {
  const [rate, setRate] = useState("24");
  const chosen = rateOf(rate);
  const missing = missingNumbers(files);
  return (
    <Modal
      title={`${files.length} stills as one take`}
      about={
        <>
          {files[0].name} to {files.at(-1)!.name}, in the order of their numbers.
        </>
      }
      onClose={onClose}
      foot={
        <>
          <Button onClick={onClose}>Leave them</Button>
          <Button tone="main" disabled={!chosen} onClick={() => chosen && onUse(chosen)}>
            Make the take
          </Button>
        </>
      }
    >
      <RateField value={rate} onChange={setRate} />
      {missing && (
        <p role="status" className="mt-3 text-brick">
          The numbers {missing} are missing. The take runs on without them, so it is that much shorter: leave the stills and look for them, or go on.
        </p>
      )}
    </Modal>
  );
}
