import {
  DataTypes,
  type Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelStatic,
  type Sequelize,
} from 'sequelize';

/** One imported picture. Its original lies in the file store under `sha256`. */
export interface PieceRow extends Model<InferAttributes<PieceRow>, InferCreationAttributes<PieceRow>> {
  id: string;
  sha256: string;
  name: string;
  format: string;
  bytes: number;
  width: number;
  height: number;
  dpi: number | null;
  backing: string;
  /** What the proposal says of the picture, in one sentence. */
  reason: string;
  /** What is to be said of the picture, as a JSON list of sentences. */
  notes: CreationOptional<string>;
  /** Number of the revision that is in force; undo and redo move it. */
  position: number;
  /** The highest revision number ever given; none is given twice, so a number always means the same pixels. */
  lastNumber: number;
  /** How many findings of each kind were open, as JSON, when the checks read revision `findingsRevision`. */
  findings: CreationOptional<string | null>;
  findingsRevision: CreationOptional<number | null>;
  /** When it was put into the trash; null while it is on the Shelf. */
  trashedAt: CreationOptional<Date | null>;
  createdAt: CreationOptional<Date>;
}

/** A saved state of a piece's cut. Numbers count from 0, the untouched piece. */
export interface RevisionRow extends Model<
  InferAttributes<RevisionRow>,
  InferCreationAttributes<RevisionRow>
> {
  pieceId: string;
  number: number;
  label: string;
  cut: string;
  createdAt: CreationOptional<Date>;
}

/** A file that was written, read back and found equal. */
export interface DeliveryRow extends Model<
  InferAttributes<DeliveryRow>,
  InferCreationAttributes<DeliveryRow>
> {
  id: CreationOptional<number>;
  pieceId: string;
  revision: number;
  cut: string;
  fileName: string;
  format: CreationOptional<string>;
  sha256: string;
  pixelSha256: string;
  bytes: number;
  width: number;
  height: number;
  dpi: number | null;
  transparent: number;
  partly: number;
  opaque: number;
  /** How its file was found when it was read back, as JSON; null for those of before. */
  findings: CreationOptional<string | null>;
  createdAt: CreationOptional<Date>;
}

/** Small facts about the data folder itself, by name. */
export interface SettingRow extends Model<InferAttributes<SettingRow>, InferCreationAttributes<SettingRow>> {
  key: string;
  value: string;
}

/** Several outputs under one name, as JSON. */
export interface OutputSetRow extends Model<
  InferAttributes<OutputSetRow>,
  InferCreationAttributes<OutputSetRow>
> {
  name: string;
  content: string;
}

/** The tables as one connection knows them. */
export interface Models {
  readonly Piece: ModelStatic<PieceRow>;
  readonly Revision: ModelStatic<RevisionRow>;
  readonly Delivery: ModelStatic<DeliveryRow>;
  readonly Setting: ModelStatic<SettingRow>;
  readonly OutputSet: ModelStatic<OutputSetRow>;
}

// A fresh object for each column: the library writes the column's name into it.
const text = () => ({ type: DataTypes.TEXT, allowNull: false });
const whole = () => ({ type: DataTypes.INTEGER, allowNull: false });
const number = () => ({ type: DataTypes.DOUBLE, allowNull: true });
const now = () => ({ type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW });

/** Binds the models to a connection. Tables are made by the migrations, never by the models. */
export function defineModels(sequelize: Sequelize): Models {
  const options = (tableName: string) => ({ tableName, timestamps: false, underscored: true });
  return {
    Piece: sequelize.define<PieceRow>(
      'piece',
      {
        id: { ...text(), primaryKey: true },
        sha256: text(),
        name: text(),
        format: text(),
        bytes: whole(),
        width: whole(),
        height: whole(),
        dpi: number(),
        backing: text(),
        reason: text(),
        notes: { ...text(), defaultValue: '[]' },
        position: whole(),
        lastNumber: whole(),
        findings: { type: DataTypes.TEXT, allowNull: true },
        findingsRevision: { type: DataTypes.INTEGER, allowNull: true },
        trashedAt: { type: DataTypes.DATE, allowNull: true },
        createdAt: now(),
      },
      options('pieces'),
    ),
    Revision: sequelize.define<RevisionRow>(
      'revision',
      {
        pieceId: { ...text(), primaryKey: true },
        number: { ...whole(), primaryKey: true },
        label: text(),
        cut: text(),
        createdAt: now(),
      },
      options('revisions'),
    ),
    Delivery: sequelize.define<DeliveryRow>(
      'delivery',
      {
        id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
        pieceId: text(),
        revision: whole(),
        cut: text(),
        fileName: text(),
        format: { ...text(), defaultValue: 'png' },
        sha256: text(),
        pixelSha256: text(),
        bytes: whole(),
        width: whole(),
        height: whole(),
        dpi: number(),
        transparent: whole(),
        partly: whole(),
        opaque: whole(),
        findings: { type: DataTypes.TEXT, allowNull: true },
        createdAt: now(),
      },
      options('deliveries'),
    ),
    Setting: sequelize.define<SettingRow>(
      'setting',
      { key: { ...text(), primaryKey: true }, value: text() },
      options('settings'),
    ),
    OutputSet: sequelize.define<OutputSetRow>(
      'outputSet',
      { name: { ...text(), primaryKey: true }, content: text() },
      options('sets'),
    ),
  };
}
