import { SignedIn } from "./SignedIn";
import { Alert, Button, Form, Input, Select, Switch } from "antd";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { when } from "../figures/when";

const ROLES = [
  { value: "lead", label: "lead: rules, overruling" },
  { value: "installer", label: "installer: works jobs" },
  { value: "viewer", label: "viewer: looks" },
];
const seen = (at: string | null) => (at ? when(at) : "never");

/** Who works here, what they may do, and what they did. */
export function People({ lead }: { lead: boolean }) {
  const client = useQueryClient();
  const [of, setOf] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const people = useQuery({ queryKey: ["people"], queryFn: () => take(api.GET("/api/people")) });
  const doings = useQuery({
    queryKey: ["doings", of],
    enabled: of !== null,
    queryFn: () => take(api.GET("/api/people/{username}/doings", { params: { path: { username: of! } } })),
  });
  const set = useAct<{ username: string; role: string; active: boolean }, Schemas["PersonOut"][]>(
    ({ username, role, active }) =>
      take(api.PUT("/api/people/{username}", { params: { path: { username } }, body: { role, active } })),
    (rows) => client.setQueryData(["people"], rows),
  );
  return (
    <>
      <div className="title">
        <h1>People</h1>
        <div className="end">
          {lead && (
            <Button type="primary" onClick={() => setAdding(!adding)}>
              {adding ? "Close" : "Add a person"}
            </Button>
          )}
        </div>
      </div>
      {adding && <AddPerson onDone={() => setAdding(false)} />}
      <div className="sheet">
        <table className="plain">
          <thead>
            <tr>
              <th>name</th>
              <th>signs in as</th>
              <th>may</th>
              <th>signs in</th>
              <th>last here</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {people.data?.map((person) => (
              <tr key={person.username}>
                <td>
                  <b>{person.name}</b>
                </td>
                <td className="num">{person.username}</td>
                <td>
                  {lead ? (
                    <Select
                      style={{ width: 220 }}
                      value={person.role}
                      aria-label={`Role of ${person.name}`}
                      onChange={(role) => set.mutate({ ...person, role })}
                      options={ROLES}
                    />
                  ) : (
                    person.role
                  )}
                </td>
                <td>
                  <Switch
                    disabled={!lead}
                    checked={person.active}
                    aria-label={`${person.name} may sign in`}
                    onChange={(active) => set.mutate({ ...person, active })}
                  />
                </td>
                <td className="num">{seen(person.last_seen)}</td>
                <td className="r">
                  <Button onClick={() => setOf(of === person.username ? null : person.username)}>
                    {of === person.username ? "Close" : "What they did"}
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {of && doings.data && (
        <div className="sheet">
          <span className="head">
            {people.data?.find((person) => person.username === of)?.name}, newest first
          </span>
          {!doings.data.length && (
            <p className="soft">
              Nothing yet. What this person enters, judges or overrules on a job will stand here.
            </p>
          )}
          <table className="plain">
            <tbody>
              {doings.data.map((row, n) => (
                <tr key={n}>
                  <td className="num">{when(row.at)}</td>
                  <td className="num">{row.job}</td>
                  <td>{row.stage}</td>
                  <td>
                    {row.verdict && <b>{row.verdict.toUpperCase()} </b>}
                    {row.title}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

function AddPerson({ onDone }: { onDone: () => void }) {
  const [wrong, setWrong] = useState<ApiError | null>(null);
  const add = useAct(
    (entered: Schemas["PersonIn"]) =>
      take(api.POST("/api/people", { body: entered })).catch((error: ApiError) => {
        setWrong(error);
        throw error;
      }),
    onDone,
  );
  return (
    <div className="sheet">
      <Form
        layout="vertical"
        className="tight"
        requiredMark={false}
        initialValues={{ role: "installer", first: "", last: "", username: "", phrase: "" }}
        onFinish={(entered) => add.mutate(entered)}
      >
        <div className="cols">
          <Form.Item name="first" label="First name">
            <Input />
          </Form.Item>
          <Form.Item name="last" label="Last name">
            <Input />
          </Form.Item>
          <Form.Item name="username" label="Signs in as">
            <Input className="num" autoComplete="off" />
          </Form.Item>
          <Form.Item name="phrase" label="First pass phrase, 12 characters or more">
            <Input.Password autoComplete="new-password" />
          </Form.Item>
          <Form.Item name="role" label="May">
            <Select options={ROLES} />
          </Form.Item>
        </div>
        {wrong && <Alert type="error" title={wrong.message} style={{ marginBottom: 8 }} />}
        <Button type="primary" htmlType="submit" loading={add.isPending}>
          Add
        </Button>
      </Form>
    </div>
  );
}

/** The one who is signed in: their role and their pass phrase. */
export function Me({ session }: { session: Schemas["SessionOut"] }) {
  const [form] = Form.useForm<Schemas["PhraseIn"]>();
  const [told, setTold] = useState<{ text: string; good: boolean } | null>(null);
  const change = useAct(
    (entered: Schemas["PhraseIn"]) =>
      take(api.POST("/api/phrases", { body: entered })).catch((error: ApiError) => {
        setTold({ text: error.message, good: false });
        throw error;
      }),
    (answer) => (setTold({ text: answer.sentence ?? "", good: true }), form.resetFields()),
  );
  return (
    <>
      <div className="title">
        <h1>{session.name}</h1>
        <span className="soft">
          {session.role}, signs in as {session.username}
        </span>
      </div>
      <div className="sheet" style={{ maxWidth: 460 }}>
        <h2>Change the pass phrase</h2>
        <Form
          form={form}
          layout="vertical"
          requiredMark={false}
          onFinish={(entered) => change.mutate(entered)}
          style={{ marginTop: 8 }}
        >
          <Form.Item
            name="old"
            label="Old pass phrase"
            rules={[{ required: true, message: "Type the old one." }]}
          >
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          <Form.Item
            name="new"
            label="New pass phrase, 12 characters or more"
            rules={[{ required: true, message: "Type the new one." }]}
          >
            <Input.Password autoComplete="new-password" />
          </Form.Item>
          {told && (
            <Alert type={told.good ? "success" : "error"} title={told.text} style={{ marginBottom: 8 }} />
          )}
          <Button type="primary" htmlType="submit" loading={change.isPending}>
            Change it
          </Button>
        </Form>
      </div>
      <SignedIn />
    </>
  );
}
