import { App, Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";

const usePractice = () =>
  useQuery({
    queryKey: ["practice"],
    queryFn: () => take(api.GET("/api/practice-shop")),
    staleTime: 60_000,
  });

/** On every screen while practice jobs are in: what is made up must never be taken for an own job. */
export function PracticeMark() {
  const practice = usePractice();
  if (!practice.data?.jobs) return null;
  return (
    <span className="practice" title="The sample shop's jobs are in; they leave under Shop">
      {practice.data.jobs} practice jobs
    </span>
  );
}

/** The sample shop beside an own one: put in to practise on, taken out without a trace. */
export function Practice({ lead }: { lead: boolean }) {
  const practice = usePractice();
  const { message, modal } = App.useApp();
  const said = (done: { sentence: string }) => void message.success(done.sentence, 6);
  const add = useAct(() => take(api.PUT("/api/practice-shop")), said);
  const remove = useAct(() => take(api.DELETE("/api/practice-shop")), said);
  if (!practice.data?.own) return null;
  const { jobs, things } = practice.data;
  const ask = () =>
    modal.confirm({
      title: "Take the practice jobs out",
      content: `${jobs} jobs and ${things} things on the shelf go, with their logs, pictures and history. Own jobs and what they use stay.`,
      okText: "Take them out",
      onOk: () => remove.mutateAsync(undefined),
    });
  return (
    <section className="sheet" style={{ marginTop: 14 }}>
      <h2>Practice</h2>
      <p className="soft">
        The sample shop&apos;s jobs can stand beside your own to try things on: marked on every screen, and
        gone without a trace when they are taken out.
      </p>
      {lead &&
        (jobs > 0 ? (
          <Button size="large" loading={remove.isPending} onClick={ask}>
            Take the {jobs} practice jobs out
          </Button>
        ) : (
          <Button size="large" loading={add.isPending} onClick={() => add.mutate(undefined)}>
            Put the sample shop in for practice
          </Button>
        ))}
    </section>
  );
}
