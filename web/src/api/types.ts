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
