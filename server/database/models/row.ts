import type { InferAttributes, InferCreationAttributes, Model } from "sequelize";

/** What a model's rows are made of: their columns by their names in code. */
export type Row<M extends Model> = Model<InferAttributes<M>, InferCreationAttributes<M>>;
