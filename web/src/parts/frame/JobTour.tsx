import { Button, Tour, type TourProps } from "antd";
import { useEffect, useState } from "react";
import type { Job } from "../../api/client";
import { useSession } from "../../api/hooks";
import { onTourAsked, tourDone, tourSeen } from "./tour";

const at = (selector: string) => () => document.querySelector<HTMLElement>(selector)!;

const STOPS: TourProps["steps"] = [
  {
    title: "One job, from left to right",
    description:
      "These slats are the stages of the job. A slat opens as its steps are done; a notch means that something holds, a bar that it stops.",
    target: at(".slats"),
  },
  {
    title: "One step at a time",
    description:
      "Here is what to do now, and how you know that it is right. What nobody knows yet about the vehicle is asked where a step needs it, and kept for the next one.",
    target: at("#work"),
    placement: "right",
  },
  {
    title: "Nothing is lost",
    description:
      "Every reading and every judgement stands here with its numbers, who entered it and when. A hold is overruled only with a name and a reason.",
    target: at(".ledger"),
    placement: "left",
  },
  {
    title: "What comes next",
    description:
      "The next open step, and waits that run whatever screen you are on. A wait that ends is heard and felt.",
    target: at("footer.now"),
    placement: "top",
  },
  {
    title: "When a word or a rule is not clear",
    description: "A touch on ? beside it opens the guide at that place. Show me round stands under ? above.",
    target: at(".bar .end"),
  },
];

/** Round the first own job, once; passed over or asked for again. In the sample shop only when it is asked for. */
export function JobTour({ job }: { job: Job }) {
  const session = useSession().data;
  const who = session?.username ?? "";
  const [open, setOpen] = useState(false);
  const own = !!session && !session.sample && !job.plate.practice && session.role !== "viewer";
  useEffect(() => onTourAsked(() => setOpen(true)), []);
  useEffect(() => {
    if (own && !tourSeen(who)) setOpen(true);
  }, [own, who]);
  const end = () => (setOpen(false), tourDone(who));
  return (
    <Tour
      open={open}
      onClose={end}
      onFinish={end}
      steps={STOPS}
      actionsRender={(own, { current, total }) => (
        <>
          {current < total - 1 && (
            <Button size="small" onClick={end}>
              Pass over
            </Button>
          )}
          {own}
        </>
      )}
    />
  );
}
