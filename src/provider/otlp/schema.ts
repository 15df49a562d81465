import protobuf from "protobufjs";

/**
 * What we read of the OpenTelemetry protocol's metrics (opentelemetry-proto 1.x: common, resource, metrics, collector/metrics).
 * Fields that are not named here are passed over, as the protocol has it. Times are nanoseconds since 1970.
 */
const PROTO = `
syntax = "proto3";
message ExportMetricsServiceRequest { repeated ResourceMetrics resource_metrics = 1; }
message ExportMetricsServiceResponse { ExportMetricsPartialSuccess partial_success = 1; }
message ExportMetricsPartialSuccess { int64 rejected_data_points = 1; string error_message = 2; }
message ResourceMetrics { Resource resource = 1; repeated ScopeMetrics scope_metrics = 2; }
message Resource { repeated KeyValue attributes = 1; }
message ScopeMetrics { repeated Metric metrics = 2; }
message Metric {
  string name = 1;
  oneof data { Gauge gauge = 5; Sum sum = 7; Histogram histogram = 9; ExponentialHistogram exponential_histogram = 10; Summary summary = 11; }
}
message Gauge { repeated NumberDataPoint data_points = 1; }
message Sum { repeated NumberDataPoint data_points = 1; AggregationTemporality aggregation_temporality = 2; bool is_monotonic = 3; }
message Histogram { repeated HistogramDataPoint data_points = 1; AggregationTemporality aggregation_temporality = 2; }
message ExponentialHistogram { repeated ExponentialHistogramDataPoint data_points = 1; AggregationTemporality aggregation_temporality = 2; }
message Summary { repeated SummaryDataPoint data_points = 1; }
enum AggregationTemporality { AGGREGATION_TEMPORALITY_UNSPECIFIED = 0; AGGREGATION_TEMPORALITY_DELTA = 1; AGGREGATION_TEMPORALITY_CUMULATIVE = 2; }
message NumberDataPoint {
  repeated KeyValue attributes = 7;
  fixed64 start_time_unix_nano = 2;
  fixed64 time_unix_nano = 3;
  oneof value { double as_double = 4; sfixed64 as_int = 6; }
  uint32 flags = 8;
}
message HistogramDataPoint {
  repeated KeyValue attributes = 9;
  fixed64 start_time_unix_nano = 2;
  fixed64 time_unix_nano = 3;
  fixed64 count = 4;
  optional double sum = 5;
  uint32 flags = 10;
}
message ExponentialHistogramDataPoint {
  repeated KeyValue attributes = 1;
  fixed64 start_time_unix_nano = 2;
  fixed64 time_unix_nano = 3;
  fixed64 count = 4;
  optional double sum = 5;
  uint32 flags = 10;
}
message SummaryDataPoint { fixed64 time_unix_nano = 3; }
message KeyValue { string key = 1; AnyValue value = 2; }
message AnyValue { oneof value { string string_value = 1; bool bool_value = 2; int64 int_value = 3; double double_value = 4; } }
message Status { int32 code = 1; string message = 2; }
`;

const { root } = protobuf.parse(PROTO, { keepCase: false });

/** A request, its answer, and what refuses one (google.rpc.Status, as the protocol has it). */
export const REQUEST = root.lookupType("ExportMetricsServiceRequest");
export const RESPONSE = root.lookupType("ExportMetricsServiceResponse");
export const STATUS = root.lookupType("Status");
