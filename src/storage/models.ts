import {
  DataTypes,
  type Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelStatic,
  type Sequelize,
} from 'sequelize';
import { date, number, numbered, text, whole } from './migrations/columns';

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
  /** Whether it lies on the Shelf; one that was brought for a run alone does not. */
  shelved: CreationOptional<boolean>;
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

/** A routine under its name, as JSON. */
export interface RoutineRow extends Model<InferAttributes<RoutineRow>, InferCreationAttributes<RoutineRow>> {
  name: string;
  content: string;
}

/** A routine on many pieces. */
export interface RunRow extends Model<InferAttributes<RunRow>, InferCreationAttributes<RunRow>> {
  id: CreationOptional<number>;
  name: string;
  /** The routine as it was when the run began, as JSON. */
  routine: string;
  /** Whether files are delivered, or settings laid only. */
  purpose: string;
  state: string;
  /** Why it stands still, where that needs words. */
  message: CreationOptional<string>;
  /** The day it was begun, where the person is. */
  date: string;
  createdAt: CreationOptional<Date>;
  endedAt: CreationOptional<Date | null>;
}

/** One picture of a run. */
export interface RunItemRow extends Model<InferAttributes<RunItemRow>, InferCreationAttributes<RunItemRow>> {
  id: CreationOptional<number>;
  runId: number;
  /** Its place in the run, from 1 on. */
  number: number;
  name: string;
  /** Null where what was brought became no piece. */
  pieceId: string | null;
  state: string;
  /** How often it was begun. */
  tries: CreationOptional<number>;
  /** Whether it is to be delivered although it is not sure: somebody looked at it. */
  accepted: CreationOptional<boolean>;
  message: CreationOptional<string>;
  sure: CreationOptional<boolean | null>;
  /** Open findings by kind, as JSON. */
  findings: CreationOptional<string | null>;
  /** The revision that it was delivered or laid as, and the one that was in force before. */
  revision: CreationOptional<number | null>;
  before: CreationOptional<number | null>;
  /** Numbers of its deliveries, as a JSON list. */
  deliveries: CreationOptional<string>;
  ms: CreationOptional<number | null>;
}

/** A folder that is watched. */
export interface WatchRow extends Model<InferAttributes<WatchRow>, InferCreationAttributes<WatchRow>> {
  id: CreationOptional<number>;
  folder: string;
  out: string;
  routine: string;
  isOn: boolean;
  createdAt: CreationOptional<Date>;
}

/** A PDF that was brought as a ground of proofs; it lies in the file store under its hash. */
export interface GroundRow extends Model<InferAttributes<GroundRow>, InferCreationAttributes<GroundRow>> {
  sha256: string;
  name: string;
  bytes: number;
  createdAt: CreationOptional<Date>;
}

/** A proof. */
export interface ProofRow extends Model<InferAttributes<ProofRow>, InferCreationAttributes<ProofRow>> {
  id: CreationOptional<number>;
  name: string;
  isTemplate: boolean;
  /** The number of the step in force, and the highest that was ever given. */
  position: number;
  lastNumber: number;
  /** The revisions of pieces that it was looked at with last, as JSON. */
  seen: CreationOptional<string>;
  createdAt: Date;
  changedAt: Date;
}

/** A saved state of a document: of a proof, or of a watermark. */
export interface StepRow extends Model<InferAttributes<StepRow>, InferCreationAttributes<StepRow>> {
  ownerId: number;
  number: number;
  label: string;
  content: string;
}

/** A watermark. */
export interface WatermarkRow extends Model<
  InferAttributes<WatermarkRow>,
  InferCreationAttributes<WatermarkRow>
> {
  id: CreationOptional<number>;
  name: string;
  position: number;
  lastNumber: number;
  createdAt: Date;
  changedAt: Date;
}

/** A font file that was brought, named by the SHA-256 of its bytes. */
export interface FontRow extends Model<InferAttributes<FontRow>, InferCreationAttributes<FontRow>> {
  sha256: string;
  name: string;
  bytes: number;
  /** What is known of it, as JSON. */
  facts: string;
  createdAt: CreationOptional<Date>;
}

/** A file that was handed over of a proof, read back and compared. */
export interface ProofFileRow extends Model<
  InferAttributes<ProofFileRow>,
  InferCreationAttributes<ProofFileRow>
> {
  id: CreationOptional<number>;
  proofId: number;
  ground: string;
  fileName: string;
  format: string;
  sha256: string;
  bytes: number;
  width: number;
  height: number;
  /** How it was found when it was read back, as JSON. */
  findings: string;
  createdAt: CreationOptional<Date>;
}

/** The tables as one connection knows them. */
export interface Models {
  readonly Piece: ModelStatic<PieceRow>;
  readonly Revision: ModelStatic<RevisionRow>;
  readonly Delivery: ModelStatic<DeliveryRow>;
  readonly Setting: ModelStatic<SettingRow>;
  readonly OutputSet: ModelStatic<OutputSetRow>;
  readonly Routine: ModelStatic<RoutineRow>;
  readonly Run: ModelStatic<RunRow>;
  readonly RunItem: ModelStatic<RunItemRow>;
  readonly Watch: ModelStatic<WatchRow>;
  readonly Ground: ModelStatic<GroundRow>;
  readonly Proof: ModelStatic<ProofRow>;
  readonly ProofStep: ModelStatic<StepRow>;
  readonly ProofFile: ModelStatic<ProofFileRow>;
  readonly Watermark: ModelStatic<WatermarkRow>;
  readonly WatermarkStep: ModelStatic<StepRow>;
  readonly Font: ModelStatic<FontRow>;
}

const now = () => ({ ...date(), defaultValue: DataTypes.NOW });

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
        shelved: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
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
        id: numbered(),
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
    Routine: sequelize.define<RoutineRow>(
      'routine',
      { name: { ...text(), primaryKey: true }, content: text() },
      options('routines'),
    ),
    Run: sequelize.define<RunRow>(
      'run',
      {
        id: numbered(),
        name: text(),
        routine: text(),
        purpose: text(),
        state: text(),
        message: { ...text(), defaultValue: '' },
        date: text(),
        createdAt: now(),
        endedAt: { type: DataTypes.DATE, allowNull: true },
      },
      options('runs'),
    ),
    RunItem: sequelize.define<RunItemRow>(
      'runItem',
      {
        id: numbered(),
        runId: whole(),
        number: whole(),
        name: text(),
        pieceId: { type: DataTypes.TEXT, allowNull: true },
        state: text(),
        tries: { ...whole(), defaultValue: 0 },
        accepted: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
        message: { ...text(), defaultValue: '' },
        sure: { type: DataTypes.BOOLEAN, allowNull: true },
        findings: { type: DataTypes.TEXT, allowNull: true },
        revision: { type: DataTypes.INTEGER, allowNull: true },
        before: { type: DataTypes.INTEGER, allowNull: true },
        deliveries: { ...text(), defaultValue: '[]' },
        ms: { type: DataTypes.INTEGER, allowNull: true },
      },
      options('run_items'),
    ),
    Watch: sequelize.define<WatchRow>(
      'watch',
      {
        id: numbered(),
        folder: text(),
        out: text(),
        routine: text(),
        isOn: { type: DataTypes.BOOLEAN, allowNull: false },
        createdAt: now(),
      },
      options('watches'),
    ),
    Ground: sequelize.define<GroundRow>(
      'ground',
      { sha256: { ...text(), primaryKey: true }, name: text(), bytes: whole(), createdAt: now() },
      options('grounds'),
    ),
    Proof: sequelize.define<ProofRow>(
      'proof',
      {
        id: numbered(),
        name: text(),
        isTemplate: { type: DataTypes.BOOLEAN, allowNull: false },
        position: whole(),
        lastNumber: whole(),
        seen: { ...text(), defaultValue: '{}' },
        createdAt: date(),
        changedAt: date(),
      },
      options('proofs'),
    ),
    ProofStep: sequelize.define<StepRow>('proofStep', stepColumns('proof_id'), options('proof_steps')),
    WatermarkStep: sequelize.define<StepRow>(
      'watermarkStep',
      stepColumns('watermark_id'),
      options('watermark_steps'),
    ),
    Watermark: sequelize.define<WatermarkRow>(
      'watermark',
      {
        id: numbered(),
        name: text(),
        position: whole(),
        lastNumber: whole(),
        createdAt: date(),
        changedAt: date(),
      },
      options('watermarks'),
    ),
    Font: sequelize.define<FontRow>(
      'font',
      {
        sha256: { ...text(), primaryKey: true },
        name: text(),
        bytes: whole(),
        facts: text(),
        createdAt: now(),
      },
      options('fonts'),
    ),
    ProofFile: sequelize.define<ProofFileRow>(
      'proofFile',
      {
        id: numbered(),
        proofId: whole(),
        ground: text(),
        fileName: text(),
        format: text(),
        sha256: text(),
        bytes: whole(),
        width: whole(),
        height: whole(),
        findings: text(),
        createdAt: now(),
      },
      options('proof_files'),
    ),
  };
}

/** Steps of a document whose id stands in `owner`. */
function stepColumns(owner: string) {
  return {
    ownerId: { ...whole(), primaryKey: true, field: owner },
    number: { ...whole(), primaryKey: true },
    label: text(),
    content: text(),
  };
}
