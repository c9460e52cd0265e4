import type { components } from "@/api/schema";

type Schemas = components["schemas"];
/** Fields with a default may be left out when asking, and are always there in a reply. */
type Whole<T> = T extends (infer U)[] ? Whole<U>[] : T extends object ? { [K in keyof T]-?: Whole<T[K]> } : T;

export type Job = Whole<Schemas["JobIn"]>;
export type Model = { slug: string; name: string; description: string; job: Job };
export type ModelLine = Schemas["ModelLine"];
export type Plan = Schemas["PlanOut"];
export type Row = Schemas["RowOut"];
export type Chip = Schemas["ChipOut"];
export type Detail = Schemas["DetailOut"];
export type Plate = Schemas["PlateOut"];
export type Check = Schemas["CheckOut"];
export type Trace = Schemas["TraceOut"];
export type Working = Schemas["WorkingOut"];
export type Log = Schemas["LogOut"];
export type Choices = Schemas["ChoicesOut"];
export type Choice = Schemas["Choice"];
export type Aim = NonNullable<Schemas["PlanIn"]["aim"]>;
export type Match = Schemas["MatchOut"];
export type MatchDrive = Schemas["DriveOut"];
export type MatchCharge = Schemas["ChargeOut"];
export type MatchPack = Schemas["PackOut"];
export type ChargeAsk = Whole<Schemas["ChargeIn"]>;
export type Joint = Schemas["JointOut"];
export type Grid = Schemas["GridOut"];
export type GridCell = Schemas["CellOut"];
export type Label = Schemas["LabelOut"];
export type Change = Schemas["ChangeOut"];
export type ImportReport = Schemas["ImportOut"];
export type ImportProgress = Schemas["ProgressOut"];
export type PackRow = Whole<Schemas["PackRow"]>;
export type GearRows = {
  packs: PackRow;
  models: Whole<Schemas["ModelRow"]>;
  chargers: Whole<Schemas["ChargerRow"]>;
  supplies: Whole<Schemas["SupplyRow"]>;
  pieces: Whole<Schemas["PieceRow"]>;
  cells: Whole<Schemas["CellTypeRow"]>;
  catalogue: Whole<Schemas["CataloguePackRow"]>;
};
export type GearKind = keyof GearRows;
