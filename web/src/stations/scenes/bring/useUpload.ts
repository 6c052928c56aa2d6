import { useEffect, useRef, useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useCreateDelivery } from "../../../api/queries/deliveries";
import { type UploadFile, uploadFile } from "../../../api/upload";

export interface Sending {
  path: string;
  size: number;
  sent: number;
  sha256: string | null;
  problem: string | null;
}

interface Upload {
  files: Sending[];
  /** The delivery, once everything has arrived. */
  deliveryId: number | null;
  problem: string | null;
  start: (files: UploadFile[]) => void;
}

/** Send files one after the other into a delivery of their own. */
export function useUpload(studyId: number): Upload {
  const { mutateAsync: create } = useCreateDelivery(studyId);
  const [files, setFiles] = useState<Sending[]>([]);
  const [deliveryId, setDeliveryId] = useState<number | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const stop = useRef(new AbortController());
  useEffect(() => {
    const controller = new AbortController();
    stop.current = controller;
    return () => controller.abort();
  }, []);

  const patch = (path: string, part: Partial<Sending>) =>
    setFiles((all) => all.map((f) => (f.path === path ? { ...f, ...part } : f)));

  const send = async (chosen: UploadFile[]) => {
    const { signal } = stop.current;
    const [first] = chosen;
    if (!first) return;
    const delivery = await create(first.path.split("/")[0] ?? first.path);
    for (const one of chosen) {
      try {
        await uploadFile(delivery.id, one, (news) => patch(one.path, news), signal);
      } catch (error) {
        if (signal.aborted) return;
        patch(one.path, { problem: sentenceOf(error) });
      }
    }
    setDeliveryId(delivery.id);
  };

  const start = (chosen: UploadFile[]) => {
    setProblem(chosen.length === 0 ? "There is no file in what was dropped." : null);
    setFiles(
      chosen.map(({ path, file }) => ({
        path,
        size: file.size,
        sent: 0,
        sha256: null,
        problem: null,
      })),
    );
    send(chosen).catch((error: unknown) => setProblem(sentenceOf(error)));
  };

  return { files, deliveryId, problem, start };
}
