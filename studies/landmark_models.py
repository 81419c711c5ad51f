"""The two landmark networks as ONNX, from the files in which their makers publish them.

``python -m studies.landmark_models WHEEL/modules OUT`` reads ``face_detection_short_range.tflite`` and
``face_landmark_with_attention.tflite`` of the mediapipe package (Apache 2.0) and writes ``face.onnx`` and ``mesh.onnx``. It
needs the dependency group ``models``. Every operator of the two is a standard one but three, which sample the feature map around lips
and eyes along an affine map; what they do was found by comparing their tensors with those of the package (see
``tests/vision/test_detector.py`` for the landmarks, which agree to a hundredth of a pixel):

- the map of a region: its points turned level by its two anchor points, their bounding box enlarged about its middle;
- its sample: bilinear, pixel centres at halves, nothing outside;
- its landmarks back: the same map, its shift in pixels of the picture instead of the feature map.

What the package does after its network is part of ``mesh.onnx``: the points of lips, eyes and irises take the place of the mesh's own,
an iris lies as deep as its eye. ``face.onnx`` gives the raw boxes and scores of its 896 anchors.

Weights stay in half precision in the file, as published, and are widened when they are loaded. Batches of any size.
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import numpy as np
import onnx
import tflite
from flatbuffers import flexbuffers
from onnx import TensorProto, helper, numpy_helper

OPSET = 16
SIDE_OF_MAP = 48
"""Pixels of the feature map that the regions are sampled from."""
MESH, IRISES, RIM = 468, 10, 16
"""Points of the plain mesh, those that the irises add, and how many of an eye's points are its rim."""
_KINDS = {v: k for k, v in vars(tflite.BuiltinOperator).items() if isinstance(v, int)}
_TYPES = {0: np.float32, 1: np.float16, 2: np.int32}


class Conversion:
    """One network on its way from NHWC to NCHW; tensors of four axes are turned, all others stay as they are."""

    def __init__(self, path: Path) -> None:
        self.model = tflite.Model.GetRootAsModel(path.read_bytes(), 0)
        self.graph = self.model.Subgraphs(0)
        self.nodes: list[Any] = []
        self.kept: dict[str, Any] = {}
        self.constants: dict[int, np.ndarray] = {}
        self.in_order: set[str] = set()
        """Tensors of four axes that are kept as NHWC, because only their order counts."""

    def shape(self, tensor: int) -> list[int]:
        found = self.graph.Tensors(tensor)
        return [int(n) for n in found.ShapeAsNumpy()] if found.ShapeLength() else []

    def constant(self, tensor: int) -> np.ndarray | None:
        if tensor in self.constants:
            return self.constants[tensor]
        found = self.graph.Tensors(tensor)
        data = self.model.Buffers(found.Buffer()).DataAsNumpy()
        if isinstance(data, int):
            return None
        return np.frombuffer(data.tobytes(), _TYPES[found.Type()]).reshape(self.shape(tensor))

    def keep(self, name: str, value: np.ndarray) -> str:
        """A constant of the network; fractions in half precision when nothing is lost by it."""
        if name not in self.kept:
            half = value.astype(np.float16) if value.dtype == np.float32 else value
            exact = half.dtype == np.float16 and np.array_equal(half.astype(np.float32), value)
            self.kept[name] = numpy_helper.from_array(half if exact else value, name + ("_half" if exact else ""))
            if exact:
                self.nodes.append(helper.make_node("Cast", [name + "_half"], [name], to=TensorProto.FLOAT))
        return name

    def add(self, kind: str, given: list[str], out: str, **how: Any) -> str:
        self.nodes.append(helper.make_node(kind, given, [out], **how))
        return out

    def name(self, tensor: int) -> str:
        return f"t{tensor}"

    # the operators ---------------------------------------------------------------------------------------------------------------

    def convolution(self, op: Any, given: list[int], out: int, depthwise: bool) -> None:
        options = tflite.DepthwiseConv2DOptions() if depthwise else tflite.Conv2DOptions()
        options.Init(op.BuiltinOptions().Bytes, op.BuiltinOptions().Pos)
        weights, bias = self.constant(given[1]), self.constant(given[2])
        assert weights is not None and bias is not None
        turned = weights.transpose(3, 0, 1, 2) if depthwise else weights.transpose(0, 3, 1, 2)
        stride = (options.StrideH(), options.StrideW())
        inner = [self.name(given[0]), self.keep(f"w{given[1]}", turned.copy()), self.keep(f"w{given[2]}", bias)]
        self.add(
            "Conv",
            inner,
            self._then(out, options.FusedActivationFunction()),
            strides=stride,
            pads=self._pads(given[0], options, turned.shape[2:], stride),
            group=turned.shape[0] if depthwise else 1,
        )

    def _pads(self, source: int, options: Any, kernel: tuple[int, ...], stride: tuple[int, int]) -> list[int]:
        if options.Padding() == tflite.Padding.VALID:
            return [0, 0, 0, 0]
        before, after = [], []
        for size, k, s in zip(self.shape(source)[1:3], kernel, stride, strict=True):
            total = max(0, (-(-size // s) - 1) * s + k - size)
            before.append(total // 2)
            after.append(total - total // 2)
        return before + after

    def _then(self, out: int, activation: int) -> str:
        if activation == tflite.ActivationFunctionType.NONE:
            return self.name(out)
        assert activation == tflite.ActivationFunctionType.RELU
        self.later = ("Relu", f"{self.name(out)}_before", self.name(out))
        return f"{self.name(out)}_before"

    def pool(self, op: Any, given: list[int], out: int) -> None:
        options = tflite.Pool2DOptions()
        options.Init(op.BuiltinOptions().Bytes, op.BuiltinOptions().Pos)
        kernel, stride = (options.FilterHeight(), options.FilterWidth()), (options.StrideH(), options.StrideW())
        pads = self._pads(given[0], options, kernel, stride)
        self.add("MaxPool", [self.name(given[0])], self.name(out), kernel_shape=kernel, strides=stride, pads=pads)

    def padding(self, given: list[int], out: int) -> None:
        pads = self.constant(given[1])
        assert pads is not None
        turned = pads[[0, 3, 1, 2]]
        amounts = self.keep(f"w{given[1]}", np.concatenate([turned[:, 0], turned[:, 1]]).astype(np.int64))
        self.add("Pad", [self.name(given[0]), amounts], self.name(out))

    def reshape(self, given: list[int], out: int) -> None:
        source, shape = self.name(given[0]), self.shape(out)
        if len(self.shape(given[0])) == 4 and self.name(given[0]) not in self.in_order:
            source = self.add("Transpose", [source], f"{self.name(out)}_turned", perm=[0, 2, 3, 1])
        if len(shape) == 4:
            self.in_order.add(self.name(out))
        self.add("Reshape", [source, self.keep(f"s{out}", np.array([-1, *shape[1:]], np.int64))], self.name(out))

    def region(self, op: Any, given: list[int], out: int) -> None:
        """The map (n, 2, 3) from the sample's pixels to those of the feature map, and from it the tensor's name."""
        how = flexbuffers.Loads(op.CustomOptionsAsNumpy().tobytes())
        assert how["target_rotation_radians"] == 0.0
        n, points = self.name(out), self.name(given[0])

        def pick(indices: list[int], axis: int, of: str, called: str) -> str:
            return self.add("Gather", [of, self.keep(f"{called}_at", np.array(indices, np.int64))], called, axis=axis)

        flat = pick([0, 1], 2, points, f"{n}_flat")
        run = self.add(
            "Sub",
            [pick([how["right_rotation_idx"]], 1, flat, f"{n}_to"), pick([how["left_rotation_idx"]], 1, flat, f"{n}_from")],
            f"{n}_run",
        )
        unit = self.add("Div", [run, self.add("ReduceL2", [run], f"{n}_length", axes=[2], keepdims=1)], f"{n}_unit")
        across = self.add("MatMul", [unit, self.keep("quarter", np.array([[0, 1], [-1, 0]], np.float32))], f"{n}_across")
        level = self.add("Concat", [unit, across], f"{n}_level", axis=1)
        back = self.add("Transpose", [level], f"{n}_back", perm=[0, 2, 1])
        seen = self.add("MatMul", [pick(how["subset_idxs"], 1, flat, f"{n}_points"), back], f"{n}_seen")
        low = self.add("ReduceMin", [seen], f"{n}_low", axes=[1], keepdims=1)
        high = self.add("ReduceMax", [seen], f"{n}_high", axes=[1], keepdims=1)
        each = np.array([how["scale_x"] / how["output_width"], how["scale_y"] / how["output_height"]], np.float32)
        step = self.add("Mul", [self.add("Sub", [high, low], f"{n}_box"), self.keep(f"{n}_each", each)], f"{n}_step")
        linear = self.add("Mul", [back, step], f"{n}_linear")
        half = np.array([0.5], np.float32)
        middle = self.add("Mul", [self.add("Add", [high, low], f"{n}_both"), self.keep("half", half)], f"{n}_middle")
        middle = self.add("MatMul", [middle, level], f"{n}_centre")
        offset = np.array([[how["output_width"] / 2], [how["output_height"] / 2]], np.float32)
        corner = self.add("MatMul", [linear, self.keep(f"{n}_offset", offset)], f"{n}_corner")
        middle = self.add("Transpose", [middle], f"{n}_stood", perm=[0, 2, 1])
        self.add("Concat", [linear, self.add("Sub", [middle, corner], f"{n}_shift")], n, axis=2)

    def sample(self, op: Any, given: list[int], out: int) -> None:
        how = flexbuffers.Loads(op.CustomOptionsAsNumpy().tobytes())
        wide, high, n = how["output_width"], how["output_height"], self.name(out)
        y, x = np.mgrid[0:high, 0:wide].astype(np.float32) + 0.5
        places = np.stack([x.ravel(), y.ravel(), np.ones(x.size, np.float32)])
        found = self.add("MatMul", [self.name(given[1]), self.keep(f"{n}_places", places)], f"{n}_found")
        found = self.add("Transpose", [found], f"{n}_pairs", perm=[0, 2, 1])
        found = self.add("Mul", [found, self.keep("to_two", np.array([2 / SIDE_OF_MAP], np.float32))], f"{n}_scaled")
        found = self.add("Sub", [found, self.keep("one", np.array([1.0], np.float32))], f"{n}_grid")
        grid = self.add("Reshape", [found, self.keep(f"{n}_shape", np.array([-1, high, wide, 2], np.int64))], f"{n}_laid")
        how_read = {"mode": "bilinear", "padding_mode": "zeros", "align_corners": 0}
        self.add("GridSample", [self.name(given[0]), grid], n, **how_read)

    def scaled(self, given: list[int], out: int) -> None:
        factor = self.constant(given[1])
        assert factor is not None
        if self.shape(out)[1:] == [4, 4]:
            factor = factor.reshape(4, 4)[:2][:, [0, 1, 3]]
        self.add("Mul", [self.name(given[0]), self.keep(f"w{given[1]}", factor.astype(np.float32))], self.name(out))

    def placed(self, given: list[int], out: int) -> None:
        n = self.name(out)
        stood = self.add("Transpose", [self.name(given[0])], f"{n}_stood", perm=[0, 2, 1])
        linear = self.add("Slice", [self.name(given[1]), *self._range(0, 2)], f"{n}_linear")
        shift = self.add("Slice", [self.name(given[1]), *self._range(2, 3)], f"{n}_shift")
        moved = self.add("Add", [self.add("MatMul", [linear, stood], f"{n}_turned"), shift], f"{n}_moved")
        self.add("Transpose", [moved], n, perm=[0, 2, 1])

    def _range(self, start: int, end: int) -> list[str]:
        return [self.keep(f"i{n}", np.array([n], np.int64)) for n in (start, end, 2)]

    def convert(self, doc: str) -> Any:
        graph = self.graph
        for number in range(graph.OperatorsLength()):
            op = graph.Operators(number)
            code = self.model.OperatorCodes(op.OpcodeIndex())
            kind = code.CustomCode().decode() if code.CustomCode() else _KINDS[max(code.BuiltinCode(), code.DeprecatedBuiltinCode())]
            given, out = [int(t) for t in op.InputsAsNumpy()], int(op.Outputs(0))
            self.later = None
            match kind:
                case "DEQUANTIZE":
                    value = self.constant(given[0])
                    assert value is not None
                    self.constants[out] = value.astype(np.float32)
                case "CONV_2D" | "DEPTHWISE_CONV_2D":
                    self.convolution(op, given, out, depthwise=kind.startswith("DEPTH"))
                case "PRELU":
                    slope = self.constant(given[1])
                    assert slope is not None
                    self.add("PRelu", [self.name(given[0]), self.keep(f"w{given[1]}", slope.reshape(-1, 1, 1))], self.name(out))
                case "ADD":
                    options = tflite.AddOptions()
                    options.Init(op.BuiltinOptions().Bytes, op.BuiltinOptions().Pos)
                    self.add("Add", [self.name(t) for t in given], self._then(out, options.FusedActivationFunction()))
                case "RELU":
                    self.add("Relu", [self.name(given[0])], self.name(out))
                case "MAX_POOL_2D":
                    self.pool(op, given, out)
                case "PAD":
                    self.padding(given, out)
                case "RESHAPE":
                    self.reshape(given, out)
                case "CONCATENATION":
                    self.add("Concat", [self.name(t) for t in given], self.name(out), axis=1)
                case "MUL":
                    self.scaled(given, out)
                case "STRIDED_SLICE":
                    self.add("Identity", [self.name(given[0])], self.name(out))
                case "Landmarks2TransformMatrix":
                    self.region(op, given, out)
                case "TransformTensorBilinear":
                    self.sample(op, given, out)
                case "TransformLandmarks":
                    self.placed(given, out)
                case _:
                    raise SystemExit(f"Nothing is known of the operator {kind}.")
            if self.later:
                self.add(self.later[0], [self.later[1]], self.later[2])
        return self._model(doc)

    def _whole_mesh(self) -> None:
        """(n, 478, 3) landmarks of one network's seven parts, and how surely there is a face, as log odds."""
        part = {self.graph.Tensors(t).Name().decode(): self.name(t) for t in map(int, self.graph.OutputsAsNumpy())}
        lips, right_eye, left_eye = (
            flexbuffers.Loads(op.CustomOptionsAsNumpy().tobytes())["subset_idxs"]
            for op in map(self.graph.Operators, range(self.graph.OperatorsLength()))
            if self.model.OperatorCodes(op.OpcodeIndex()).CustomCode() == b"Landmarks2TransformMatrix"
        )
        mesh = self._laid("output_mesh_identity", part, 3)
        flat = [self.add("Gather", [mesh, self.keep("xy", np.array([0, 1]))], "mesh_xy", axis=2)]
        names = ("output_lips", "output_left_eye", "output_right_eye", "output_left_iris", "output_right_iris")
        flat += [self._laid(name, part, 2) for name in names]  # the network's left is the picture's: the client's right
        rows = np.arange(MESH + IRISES)
        places = np.concatenate([np.arange(MESH), lips, right_eye, left_eye, MESH + np.arange(IRISES)])
        rows[places[MESH:]] = MESH + np.arange(len(places) - MESH)
        xy = self.add("Gather", [self.add("Concat", flat, "all_xy", axis=1), self.keep("rows", rows)], "xy_of_all", axis=1)
        z = [self.add("Gather", [mesh, self.keep("z", np.array([2]))], "mesh_z", axis=2)]
        for name, eye in (("right", right_eye), ("left", left_eye)):
            rim = self.add("Gather", [z[0], self.keep(f"{name}_rim", np.array(eye[:RIM]))], f"{name}_rim_z", axis=1)
            mean = self.add("ReduceMean", [rim], f"{name}_z", axes=[1], keepdims=1)
            z += [mean] * (IRISES // 2)
        self.add("Concat", [xy, self.add("Concat", z, "all_z", axis=1)], "landmarks", axis=2)
        self.add("Reshape", [part["conv_faceflag"], self.keep("flat_shape", np.array([-1]))], "presence")

    def _laid(self, name: str, part: dict[str, str], axes: int) -> str:
        return self.add("Reshape", [part[name], self.keep(f"laid{axes}", np.array([0, -1, axes]))], f"{name}_laid")

    def _model(self, doc: str) -> Any:
        entry = int(self.graph.Inputs(0))
        _, high, wide, channels = self.shape(entry)
        picture = helper.make_node("Transpose", ["picture"], [self.name(entry)], perm=[0, 3, 1, 2])
        outputs = []
        if self.graph.OutputsLength() > 2:
            self._whole_mesh()
            outputs = [("landmarks", ["n", MESH + IRISES, 3]), ("presence", ["n"])]
        else:
            for place in range(self.graph.OutputsLength()):
                tensor = int(self.graph.Outputs(place))
                called, shape = self.graph.Tensors(tensor).Name().decode(), self.shape(tensor)[1:]
                self.add("Identity", [self.name(tensor)], called)
                outputs.append((called, ["n", *shape]))
        values = [helper.make_tensor_value_info(called, TensorProto.FLOAT, shape) for called, shape in outputs]
        given = [helper.make_tensor_value_info("picture", TensorProto.FLOAT, ["n", high, wide, channels])]
        graph = helper.make_graph([picture, *self.nodes], "landmarks", given, values, initializer=list(self.kept.values()), doc_string=doc)
        model = helper.make_model(graph, opset_imports=[helper.make_opsetid("", OPSET)], ir_version=8, producer_name="dimbo")
        onnx.checker.check_model(model, full_check=True)
        return model


def main(modules: Path, out: Path) -> None:
    """Write both networks into a folder."""
    for source, name in (
        ("face_detection/face_detection_short_range.tflite", "face.onnx"),
        ("face_landmark/face_landmark_with_attention.tflite", "mesh.onnx"),
    ):
        onnx.save(Conversion(modules / source).convert(f"From {source} of mediapipe, Apache 2.0"), out / name)


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
