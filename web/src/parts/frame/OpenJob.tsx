import { Button, Form, Input, Modal, Segmented, Select } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { NewVehicle } from "../shelf/NewVehicle";

/** Vehicles of the shelf under their kinds, for a list that is searched. */
function byKind(items: { key: string; name: string; body: Record<string, unknown> }[]) {
  const kinds = [...new Set(items.map((item) => String(item.body.kind)))].sort();
  return kinds.map((kind) => ({
    label: kind,
    options: items
      .filter((item) => item.body.kind === kind)
      .map((item) => ({ value: item.key, label: item.name })),
  }));
}

/** A job on a vehicle of the shelf, or on one that no shelf has seen. */
export function OpenJob({ onClose }: { onClose: () => void }) {
  const go = useNavigate();
  const vehicles = useQuery({
    queryKey: ["shelf", "vehicle"],
    queryFn: () => take(api.GET("/api/shelf-items", { params: { query: { kind: "vehicle" } } })),
  });
  const [unknown, setUnknown] = useState<boolean | null>(null);
  const opened = (job: Schemas["JobRow"]) => void go(`/jobs/${job.number}/intake`);
  const open = useAct((body: Schemas["NewJob"]) => take(api.POST("/api/jobs", { body })), opened);
  const owned = useQuery({
    queryKey: ["owned"],
    queryFn: () => take(api.GET("/api/owned-vehicles")),
  });
  const [form] = Form.useForm<Schemas["NewJob"]>();
  const came = (id: number) => {
    const one = owned.data?.find((row) => row.id === id);
    if (one)
      form.setFieldsValue({
        registration: one.registration,
        owner: one.owner,
        vin: one.vin,
        ...(one.shelf_key ? { vehicle: one.shelf_key } : {}),
      });
  };
  const none = vehicles.data?.length === 0;
  const fresh = unknown ?? none;
  return (
    <Modal open onCancel={onClose} title="Open a job" footer={null} width={640}>
      {vehicles.data && !none && (
        <Segmented
          block
          size="large"
          style={{ marginBottom: 12 }}
          value={fresh ? "new" : "shelf"}
          onChange={(value) => setUnknown(value === "new")}
          options={[
            { value: "shelf", label: "From the shelf" },
            { value: "new", label: "Not on the shelf" },
          ]}
        />
      )}
      {fresh && <NewVehicle onOpened={opened} />}
      {vehicles.data && !fresh && (
        <Form
          form={form}
          layout="vertical"
          requiredMark={false}
          initialValues={{ registration: "", owner: "", vin: "" }}
          onFinish={(entered) => open.mutate(entered)}
        >
          {(owned.data?.length ?? 0) > 0 && (
            <label className="tap">
              <span className="soft">Was here before, or stands on your list</span>
              <Select
                style={{ width: "100%" }}
                showSearch={{ optionFilterProp: "label" }}
                aria-label="A customer's vehicle"
                placeholder="registration, owner or number"
                onChange={came}
                options={owned.data?.map((row) => ({
                  value: row.id,
                  label: [row.registration, row.model, row.owner, row.vin].filter(Boolean).join(" · "),
                }))}
              />
            </label>
          )}
          <Form.Item name="vin" hidden>
            <Input />
          </Form.Item>
          <Form.Item
            name="vehicle"
            label="Vehicle"
            rules={[{ required: true, message: "Which vehicle is it?" }]}
          >
            <Select
              showSearch={{ optionFilterProp: "label" }}
              placeholder="Type a name, or choose by kind"
              options={byKind(vehicles.data ?? [])}
            />
          </Form.Item>
          <Form.Item name="registration" label="Registration">
            <Input />
          </Form.Item>
          <Form.Item name="owner" label="Owner, when there is time">
            <Input />
          </Form.Item>
          <Button type="primary" htmlType="submit" loading={open.isPending} block>
            Open
          </Button>
        </Form>
      )}
    </Modal>
  );
}
