export interface Palette {
  paper: string;
  sheet: string;
  ink: string;
  soft: string;
  rule: string;
  petrol: string;
  petrolText: string;
  pale: string;
  ochre: string;
  oxide: string;
  moss: string;
  slate: string;
  bar: string;
  barInk: string;
  amber: string;
  chip: string;
  caution: string;
  alarm: string;
}

export const day: Palette = {
  paper: "#F4F1EA",
  sheet: "#FFFEFB",
  ink: "#1D2A2E",
  soft: "#55626A",
  rule: "#D8D2C4",
  petrol: "#0B5E6B",
  petrolText: "#FFFFFF",
  pale: "#CFE0DC",
  ochre: "#9A5B00",
  oxide: "#A1382A",
  moss: "#2F6B43",
  slate: "#44627A",
  bar: "#1D2A2E",
  barInk: "#F4F1EA",
  amber: "#E0A84E",
  chip: "#E5DFD0",
  caution: "#FAF1DC",
  alarm: "#F8E6E1",
};

export const night: Palette = {
  paper: "#11191C",
  sheet: "#18242A",
  ink: "#E9E4D8",
  soft: "#A7B2B6",
  rule: "#33434A",
  petrol: "#5DB6C2",
  petrolText: "#0B1518",
  pale: "#1F3F46",
  ochre: "#E2A64A",
  oxide: "#EE8A78",
  moss: "#7FC596",
  slate: "#9DB8CD",
  bar: "#0A1013",
  barInk: "#E9E4D8",
  amber: "#E0A84E",
  chip: "#25333A",
  caution: "#33290F",
  alarm: "#3A211C",
};
