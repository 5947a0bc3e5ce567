import { Alert, Button, Checkbox, Form, Input, Select } from "antd";
import { useState } from "react";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";

/** Identity and codes as another tester shows them. */
export function ByHand({ number, vin, onDone }: { number: string; vin: string; onDone: () => void }) {
  const [wrong, setWrong] = useState("");
  const save = useAct(
    (entered: Schemas["BaselineIn"]) =>
      take(api.PUT("/api/jobs/{number}/baseline", { params: { path: { number } }, body: entered })).catch(
        (error: ApiError) => {
          setWrong(error.message);
          throw error;
        },
      ),
    onDone,
  );
  return (
    <Form
      layout="vertical"
      className="tight"
      requiredMark={false}
      initialValues={{ vin, computer: "", calibration: "", codes: [], none_shown: false }}
      onFinish={(entered) =>
        save.mutate({ ...entered, none_shown: Boolean(entered.none_shown) && !entered.codes.length })
      }
      style={{ marginTop: 8 }}
    >
      <div className="cols">
        <Form.Item name="computer" label="Computer">
          <Input className="num" />
        </Form.Item>
        <Form.Item name="calibration" label="Calibration">
          <Input className="num" />
        </Form.Item>
        <Form.Item name="vin" label="VIN in the computer">
          <Input className="num" />
        </Form.Item>
      </div>
      <Form.List name="codes">
        {(fields, { add, remove }) => (
          <>
            {fields.map((field) => (
              <div className="row" key={field.key} style={{ marginBottom: 6 }}>
                <Form.Item name={[field.name, "code"]} noStyle>
                  <Input
                    className="num"
                    style={{ width: 120 }}
                    placeholder="P0171"
                    aria-label={`Code ${field.name + 1}`}
                  />
                </Form.Item>
                <Form.Item name={[field.name, "status"]} noStyle initialValue="stored">
                  <Select
                    style={{ width: 150 }}
                    aria-label={`Status ${field.name + 1}`}
                    options={["stored", "pending", "permanent"].map((value) => ({ value, label: value }))}
                  />
                </Form.Item>
                <Button type="text" onClick={() => remove(field.name)}>
                  Take off
                </Button>
              </div>
            ))}
            {!fields.length && (
              <Form.Item name="none_shown" valuePropName="checked" noStyle>
                <Checkbox>The tester was asked for codes and shows none</Checkbox>
              </Form.Item>
            )}
            <Button onClick={() => add()}>{fields.length ? "Another code" : "It shows a code"}</Button>
          </>
        )}
      </Form.List>
      {wrong && <Alert type="error" title={wrong} style={{ margin: "8px 0" }} />}
      <Button type="primary" htmlType="submit" loading={save.isPending} style={{ marginLeft: 8 }}>
        Enter these
      </Button>
    </Form>
  );
}
