import type { DataType, InferAttributes, InferCreationAttributes, Model } from "sequelize";

/** What a model's rows are made of: their columns by their names in code. */
export type Row<M extends Model> = Model<InferAttributes<M>, InferCreationAttributes<M>>;

/** A column that is the primary key, or part of it. */
export const key = (type: DataType) => ({ type, primaryKey: true });
