/** The ranges and first values of numbers, out of the models of the service by `make types`. */
export const LIMITS = {
  "BallShape": {
    "diameter": {
      "most": 1000000.0,
      "above": 0,
      "first": 50.0
    },
    "divisions": {
      "least": 1,
      "most": 200,
      "first": 6
    }
  },
  "BoxShape": {
    "width": {
      "most": 1000000.0,
      "above": 0,
      "first": 60.0
    },
    "height": {
      "most": 1000000.0,
      "above": 0,
      "first": 40.0
    },
    "depth": {
      "most": 1000000.0,
      "above": 0,
      "first": 40.0
    },
    "along_width": {
      "least": 1,
      "most": 500,
      "first": 3
    },
    "along_height": {
      "least": 1,
      "most": 500,
      "first": 2
    },
    "along_depth": {
      "least": 1,
      "most": 500,
      "first": 2
    }
  },
  "ConeShape": {
    "diameter": {
      "most": 1000000.0,
      "above": 0,
      "first": 50.0
    },
    "top_diameter": {
      "least": 0,
      "most": 1000000.0,
      "first": 0.0
    },
    "height": {
      "most": 1000000.0,
      "above": 0,
      "first": 60.0
    },
    "sides": {
      "least": 3,
      "most": 1000,
      "first": 24
    },
    "along_height": {
      "least": 1,
      "most": 500,
      "first": 4
    }
  },
  "CylinderShape": {
    "diameter": {
      "most": 1000000.0,
      "above": 0,
      "first": 50.0
    },
    "height": {
      "most": 1000000.0,
      "above": 0,
      "first": 60.0
    },
    "sides": {
      "least": 3,
      "most": 1000,
      "first": 24
    },
    "along_height": {
      "least": 1,
      "most": 500,
      "first": 4
    }
  },
  "PrismShape": {
    "diameter": {
      "most": 1000000.0,
      "above": 0,
      "first": 50.0
    },
    "height": {
      "most": 1000000.0,
      "above": 0,
      "first": 60.0
    },
    "sides": {
      "least": 3,
      "most": 64,
      "first": 6
    },
    "along_height": {
      "least": 1,
      "most": 500,
      "first": 1
    }
  },
  "SheetShape": {
    "width": {
      "most": 1000000.0,
      "above": 0,
      "first": 80.0
    },
    "depth": {
      "most": 1000000.0,
      "above": 0,
      "first": 60.0
    },
    "along_width": {
      "least": 1,
      "most": 500,
      "first": 8
    },
    "along_depth": {
      "least": 1,
      "most": 500,
      "first": 6
    }
  },
  "SphereShape": {
    "diameter": {
      "most": 1000000.0,
      "above": 0,
      "first": 50.0
    },
    "sides": {
      "least": 3,
      "most": 1000,
      "first": 24
    },
    "rings": {
      "least": 2,
      "most": 500,
      "first": 12
    }
  },
  "TorusShape": {
    "diameter": {
      "most": 1000000.0,
      "above": 0,
      "first": 80.0
    },
    "thickness": {
      "most": 1000000.0,
      "above": 0,
      "first": 20.0
    },
    "around": {
      "least": 3,
      "most": 1000,
      "first": 32
    },
    "across": {
      "least": 3,
      "most": 1000,
      "first": 12
    }
  },
  "BevelParams": {
    "rounds": {
      "least": 1,
      "most": 8,
      "first": 1
    },
    "profile": {
      "least": -1,
      "most": 1,
      "first": 1.0
    }
  },
  "BridgeParams": {
    "twist": {
      "first": 0
    },
    "steps": {
      "least": 0,
      "most": 200,
      "first": 0
    }
  },
  "ByCells": {
    "count": {
      "least": 2,
      "most": 400,
      "first": 12
    },
    "seed": {
      "least": 0,
      "first": 1
    }
  },
  "ByCounts": {
    "x": {
      "least": 1,
      "most": 50,
      "first": 2
    },
    "y": {
      "least": 1,
      "most": 50,
      "first": 2
    },
    "z": {
      "least": 1,
      "most": 50,
      "first": 2
    }
  },
  "ByRandomPlanes": {
    "count": {
      "least": 1,
      "most": 40,
      "first": 4
    },
    "seed": {
      "least": 0,
      "first": 1
    }
  },
  "CircleParams": {
    "face": {
      "least": 0
    },
    "count": {
      "least": 3,
      "most": 512,
      "first": 8
    },
    "turn": {
      "first": 0.0
    }
  },
  "CleanPatchParams": {
    "within": {
      "most": 1,
      "above": 0,
      "first": 0.0001
    }
  },
  "DissolveParams": {
    "straight_within": {
      "least": 0,
      "most": 180,
      "first": 1.0
    }
  },
  "DivideParams": {
    "columns": {
      "least": 1,
      "most": 64,
      "first": 2
    },
    "rows": {
      "least": 1,
      "most": 64,
      "first": 2
    }
  },
  "EdgePoint": {
    "t": {
      "least": 0,
      "most": 1
    }
  },
  "FacePoint": {
    "face": {
      "least": 0
    }
  },
  "Falloff": {
    "rings": {
      "least": 1,
      "most": 100
    }
  },
  "FreehandParams": {
    "smooth": {
      "least": 0,
      "most": 1,
      "first": 0.0
    },
    "within": {
      "least": 0,
      "most": 1000,
      "first": 1.5
    },
    "join": {
      "least": 0,
      "most": 1000,
      "first": 8.0
    },
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "follow": {
      "least": 0,
      "most": 1,
      "first": 0.0
    },
    "share": {
      "least": 0,
      "most": 1
    }
  },
  "GaugeParams": {
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "follow": {
      "least": 0,
      "most": 1,
      "first": 0.0
    }
  },
  "HardEdgesParams": {
    "degrees": {
      "least": 0,
      "most": 180
    },
    "strength": {
      "above": 0,
      "below": 1,
      "first": 0.5
    }
  },
  "InsetParams": {
    "distance": {
      "above": 0
    }
  },
  "JoinTrianglesParams": {
    "within": {
      "least": 0,
      "most": 180,
      "first": 25.0
    }
  },
  "KeptVertex": {
    "vertex": {
      "least": 0
    }
  },
  "KnifeParams": {
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "follow": {
      "least": 0,
      "most": 1,
      "first": 0.0
    }
  },
  "LoopParams": {
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "follow": {
      "least": 0,
      "most": 1,
      "first": 0.0
    },
    "extra_points": {
      "least": 0,
      "most": 100,
      "first": 0
    }
  },
  "Mirror": {
    "offset": {
      "first": 0.0
    }
  },
  "OutlineParams": {
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "settle": {
      "least": 0,
      "first": 0.0
    },
    "count": {
      "least": 3,
      "most": 2000
    },
    "collar": {
      "least": 0,
      "first": 0.0
    }
  },
  "PatchParams": {
    "degrees": {
      "least": 0,
      "most": 180,
      "first": 30.0
    }
  },
  "Pocket": {
    "depth": {
      "above": 0
    }
  },
  "ProfileRow": {
    "height": {
      "least": 0
    },
    "diameter": {
      "above": 0
    }
  },
  "QuadsParams": {
    "within": {
      "least": 0,
      "most": 90,
      "first": 25.0
    },
    "way": {
      "least": 0,
      "most": 2,
      "first": 0
    }
  },
  "RelaxParams": {
    "strength": {
      "most": 1,
      "above": 0,
      "first": 0.5
    },
    "rounds": {
      "least": 1,
      "most": 200,
      "first": 10
    }
  },
  "Repeat": {
    "count": {
      "least": 2,
      "most": 1000
    },
    "spacing": {
      "above": 0
    }
  },
  "RoundParams": {
    "diameter": {
      "above": 0
    }
  },
  "RuledParams": {
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "follow": {
      "least": 0,
      "most": 1,
      "first": 0.0
    },
    "degrees": {
      "above": 0,
      "below": 180,
      "first": 90.0
    }
  },
  "Scores": {
    "count": {
      "least": 1,
      "most": 50
    },
    "ratio": {
      "least": 0.01,
      "most": 100,
      "first": 1.0
    }
  },
  "SeamParams": {
    "hard_above": {
      "least": 0,
      "most": 180
    }
  },
  "ShardsParams": {
    "thickness": {
      "least": 0,
      "first": 0.0
    }
  },
  "SliceParams": {
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "follow": {
      "least": 0,
      "most": 1,
      "first": 0.0
    }
  },
  "Spread": {
    "count": {
      "least": 1,
      "most": 1000
    },
    "ratio": {
      "least": 0.01,
      "most": 100,
      "first": 1.0
    }
  },
  "StraysParams": {
    "within": {
      "least": 0,
      "most": 180,
      "first": 1.0
    }
  },
  "SubdivideParams": {
    "rounds": {
      "least": 1,
      "most": 4,
      "first": 1
    }
  },
  "ThinParams": {
    "smooth": {
      "least": 0,
      "most": 1,
      "first": 0.0
    },
    "within": {
      "least": 0,
      "most": 1000,
      "first": 1.5
    },
    "join": {
      "least": 0,
      "most": 1000,
      "first": 8.0
    },
    "share": {
      "least": 0,
      "most": 1
    },
    "straight_within": {
      "least": 0,
      "most": 180,
      "first": 1.0
    }
  },
  "Tilt": {
    "degrees": {
      "above": -90,
      "below": 90
    }
  },
  "VertexPoint": {
    "vertex": {
      "least": 0
    }
  },
  "View": {
    "fov": {
      "least": 0.001,
      "most": 179.9
    }
  },
  "Weave": {
    "most_off": {
      "least": 0
    }
  },
  "WeldParams": {
    "distance": {
      "least": 0
    }
  },
  "Woven": {
    "even_to": {
      "least": 0,
      "most": 180,
      "first": 30.0
    },
    "most_moved": {
      "least": 0,
      "first": 0.1
    },
    "most_off": {
      "least": 0
    }
  },
  "MakeIn": {
    "revision": {
      "least": 0
    }
  },
  "AtRevision": {
    "revision": {
      "least": 0
    }
  },
  "LinesIn": {
    "revision": {
      "least": 0
    }
  },
  "AimIn": {
    "revision": {
      "least": 0
    },
    "length": {
      "above": 0
    }
  },
  "Lock": {
    "degrees": {
      "most": 180,
      "above": 0,
      "first": 15.0
    },
    "spacing": {
      "above": 0,
      "first": 10.0
    }
  },
  "Settling": {
    "step": {
      "most": 1.0,
      "above": 0.0,
      "first": 0.1
    },
    "every": {
      "above": 0.0
    }
  },
  "PlanIn": {
    "revision": {
      "least": 0
    }
  },
  "StepIn": {
    "revision": {
      "least": 0
    }
  },
  "SmoothIn": {
    "revision": {
      "least": 0
    }
  },
  "SmoothPickIn": {
    "revision": {
      "least": 0
    }
  },
  "MeasureIn": {
    "revision": {
      "least": 0
    }
  },
  "FlowLinesIn": {
    "revision": {
      "least": 0
    }
  },
  "ByPointer": {
    "radius": {
      "least": 0,
      "most": 200,
      "first": 0.0
    }
  },
  "ByQuality": {
    "bin": {
      "least": 0
    }
  },
  "PickIn": {
    "revision": {
      "least": 0
    }
  },
  "LoopAimIn": {
    "revision": {
      "least": 0
    }
  },
  "LoopSettings": {
    "hard_above": {
      "least": 0,
      "most": 180
    },
    "follow": {
      "least": 0,
      "most": 1,
      "first": 0.0
    },
    "extra_points": {
      "least": 0,
      "most": 100,
      "first": 0
    }
  },
  "SliceAimIn": {
    "revision": {
      "least": 0
    }
  },
  "WalkIn": {
    "revision": {
      "least": 0
    }
  },
  "PlacedPlane": {
    "face": {
      "least": 0
    },
    "offset": {
      "first": 0.0
    }
  },
  "PlaneAimIn": {
    "revision": {
      "least": 0
    }
  },
  "HandleAimIn": {
    "revision": {
      "least": 0
    }
  },
  "Held": {
    "degrees": {
      "first": 0.0
    }
  },
  "Settles": {
    "step": {
      "first": 15.0
    }
  },
  "SlideAimIn": {
    "revision": {
      "least": 0
    },
    "step": {
      "most": 1,
      "above": 0
    }
  },
  "DrawingPlacement": {
    "x": {
      "first": 0.0
    },
    "y": {
      "first": 0.0
    },
    "height": {
      "first": 100.0
    },
    "strength": {
      "least": 0,
      "most": 1,
      "first": 0.7
    }
  },
  "DrawingChangeIn": {
    "revision": {
      "least": 0
    }
  },
  "CircleOutline": {
    "diameter": {
      "first": 30.0
    }
  },
  "PolygonOutline": {
    "sides": {
      "least": 3,
      "most": 256,
      "first": 6
    },
    "diameter": {
      "first": 30.0
    },
    "corner": {
      "least": 0,
      "first": 0.0
    }
  },
  "RectangleOutline": {
    "width": {
      "first": 40.0
    },
    "height": {
      "first": 30.0
    },
    "corner": {
      "least": 0,
      "first": 6.0
    }
  },
  "SlotOutline": {
    "length": {
      "first": 40.0
    },
    "width": {
      "first": 10.0
    }
  },
  "StarOutline": {
    "points": {
      "least": 3,
      "most": 128,
      "first": 5
    },
    "diameter": {
      "first": 40.0
    },
    "inner": {
      "above": 0,
      "below": 1,
      "first": 0.45
    }
  },
  "DrawnOutline": {
    "pieces": {
      "least": 1,
      "most": 64,
      "first": 6
    }
  },
  "Node": {
    "off": {
      "first": 0.0
    },
    "corner": {
      "least": 0,
      "first": 0.0
    },
    "bow": {
      "first": 0.0
    }
  },
  "PlacedSheet": {
    "turn": {
      "first": 0.0
    },
    "scale": {
      "most": 1000000.0,
      "above": 0,
      "first": 1.0
    },
    "lift": {
      "first": 0.0
    }
  },
  "ByEdges": {
    "revision": {
      "least": 0
    },
    "part": {
      "least": 0
    }
  },
  "CornersChange": {
    "radius": {
      "least": 0,
      "first": 0.0
    }
  },
  "NodeChange": {
    "curve": {
      "least": 0
    },
    "node": {
      "least": 0
    },
    "step": {
      "least": 0,
      "first": 1.0
    }
  },
  "RoundChange": {
    "count": {
      "least": 1,
      "most": 100,
      "first": 6
    },
    "radius": {
      "least": 0,
      "first": 30.0
    }
  },
  "RowsChange": {
    "columns": {
      "least": 1,
      "most": 100,
      "first": 2
    },
    "rows": {
      "least": 1,
      "most": 100,
      "first": 1
    },
    "across": {
      "first": 20.0
    },
    "down": {
      "first": 20.0
    }
  },
  "RoundAxis": {
    "count": {
      "least": 2,
      "most": 200,
      "first": 4
    }
  },
  "SheetAimIn": {
    "revision": {
      "least": 0
    },
    "face": {
      "least": 0
    }
  },
  "PlaceIn": {
    "part": {
      "least": 0
    }
  },
  "JoinIn": {
    "weld": {
      "least": 0
    }
  },
  "BridgeIn": {
    "revision": {
      "least": 0
    },
    "to": {
      "least": 0
    },
    "steps": {
      "least": 0,
      "most": 200,
      "first": 0
    }
  },
  "InARow": {
    "count": {
      "least": 1,
      "most": 200,
      "first": 1
    }
  },
  "Mirrored": {
    "offset": {
      "first": 0.0
    }
  },
  "RoundAnAxis": {
    "count": {
      "least": 1,
      "most": 200,
      "first": 3
    },
    "degrees": {
      "first": 90.0
    },
    "rise": {
      "first": 0.0
    }
  },
  "SpreadIn": {
    "by": {
      "above": -1
    }
  },
  "WhoseIn": {
    "hand": {
      "least": 0
    }
  },
  "StencilIn": {
    "part": {
      "least": 0
    },
    "hand": {
      "least": 0
    }
  },
  "FlatPart": {
    "thickness": {
      "least": 0,
      "first": 0.0
    }
  },
  "EntryIn": {
    "entry": {
      "least": 0
    }
  }
} as const;
