import protobuf from 'protobufjs'

/** As much of the open format for networks (version 8 of its representation) as is written here, with its field numbers. */
const SCHEMA = `
syntax = "proto3";
message Model { int64 ir_version = 1; Graph graph = 7; repeated OperatorSet opset_import = 8; }
message OperatorSet { string domain = 1; int64 version = 2; }
message Graph {
  repeated Node node = 1; string name = 2; repeated Tensor initializer = 5; repeated ValueInfo input = 11; repeated ValueInfo output = 12;
}
message Node { repeated string input = 1; repeated string output = 2; string op_type = 4; repeated Attribute attribute = 5; }
message Attribute { string name = 1; int64 i = 3; repeated int64 ints = 8; int32 type = 20; }
message Tensor { repeated int64 dims = 1; int32 data_type = 2; string name = 8; bytes raw_data = 9; }
message ValueInfo { string name = 1; Type type = 2; }
message Type { TensorType tensor_type = 1; }
message TensorType { int32 elem_type = 1; Shape shape = 2; }
message Shape { repeated Dimension dim = 1; }
message Dimension { int64 dim_value = 1; string dim_param = 2; }
`
const Model = protobuf.parse(SCHEMA, { keepCase: true }).root.lookupType('Model')
const [IR_VERSION, OPSET] = [8, 17]
const TYPES = { float: 1, int64: 7 } as const
const [INT, INTS] = [2, 7]

/** A value that goes in or out: its dimensions, those that are open by a name. */
export interface Port {
  name: string
  type: keyof typeof TYPES
  dims: readonly (number | string)[]
}
/** One operation: what it is called, what goes in, the one that comes out. */
export interface Step {
  op: string
  from: readonly string[]
  to: string
  with?: Readonly<Record<string, number | readonly number[]>>
}
export interface Constant {
  name: string
  dims: readonly number[]
  values: Float32Array | BigInt64Array
}

/** A network as bytes that a runtime for this format reads. */
export function network(
  steps: readonly Step[],
  inputs: readonly Port[],
  outputs: readonly Port[],
  constants: readonly Constant[],
): Uint8Array {
  const graph = {
    name: 'network',
    node: steps.map((s) => ({ input: s.from, output: [s.to], op_type: s.op, attribute: Object.entries(s.with ?? {}).map(attribute) })),
    initializer: constants.map(({ name, dims, values }) => ({
      name,
      dims,
      data_type: values instanceof Float32Array ? TYPES.float : TYPES.int64,
      raw_data: new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
    })),
    input: inputs.map(valueInfo),
    output: outputs.map(valueInfo),
  }
  const model = { ir_version: IR_VERSION, graph, opset_import: [{ domain: '', version: OPSET }] }
  return Model.encode(Model.fromObject(model)).finish()
}

const attribute = ([name, value]: [string, number | readonly number[]]) =>
  typeof value === 'number' ? { name, i: value, type: INT } : { name, ints: value, type: INTS }
const valueInfo = ({ name, type, dims }: Port) => ({
  name,
  type: {
    tensor_type: { elem_type: TYPES[type], shape: { dim: dims.map((d) => (typeof d === 'number' ? { dim_value: d } : { dim_param: d })) } },
  },
})
