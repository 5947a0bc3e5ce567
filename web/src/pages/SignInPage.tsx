import { Alert, Button, Form, Input } from "antd";
import { useEffect, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError } from "../api/client";
import { Mark } from "../parts/Glyphs";

export function SignInPage({ sample }: { sample: boolean }) {
  const client = useQueryClient();
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    document.title = "Sign in · Vent Map";
  }, []);
  // Where they wanted to go is kept by the address; `Screens` leads there once the session is known.
  const send = async (entered: { name: string; phrase: string }) => {
    setBusy(true);
    try {
      client.setQueryData(["session"], await take(api.POST("/api/sessions", { body: entered })));
    } catch (error) {
      setWrong((error as ApiError).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <main style={{ maxWidth: 420, margin: "14vh auto", padding: 16 }}>
      <div className="row" style={{ marginBottom: 18 }}>
        <Mark size={40} />
        <h1 style={{ letterSpacing: ".06em" }}>VENT MAP</h1>
      </div>
      <div className="sheet">
        <Form layout="vertical" onFinish={send} requiredMark={false} size="large">
          <Form.Item name="name" label="Name" rules={[{ required: true, message: "Type your name." }]}>
            <Input autoFocus autoComplete="username" />
          </Form.Item>
          <Form.Item name="phrase" label="Pass phrase" rules={[{ required: true, message: "Type your pass phrase." }]}>
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          {wrong && <Alert type="error" title={wrong} style={{ marginBottom: 14 }} />}
          <Button type="primary" htmlType="submit" loading={busy} block>
            Sign in
          </Button>
        </Form>
      </div>
      {sample && (
        <p className="soft">
          Sample shop: sign in as <b>lead</b>, <b>installer</b> or <b>viewer</b>; pass phrase <span className="num">sorrel pass 1450</span>.
        </p>
      )}
    </main>
  );
}
