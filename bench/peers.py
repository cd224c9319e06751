"""The same slice by other libraries, as a yardstick. Imported only where they are installed."""

from __future__ import annotations

from bench.timing import median
from cutcore import Mesh

NORMAL = (0.31, 0.77, 0.56)


def by_vtk(mesh: Mesh) -> float:
    """Seconds to clip the polygons by a plane."""
    import numpy as np
    import vtk
    from vtk.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray

    places = vtk.vtkPoints()
    places.SetData(numpy_to_vtk(mesh.points, deep=True))
    cells = vtk.vtkCellArray()
    cells.SetData(
        numpy_to_vtkIdTypeArray(mesh.starts.astype(np.int64), deep=True),
        numpy_to_vtkIdTypeArray(mesh.corners.astype(np.int64), deep=True),
    )
    data = vtk.vtkPolyData()
    data.SetPoints(places)
    data.SetPolys(cells)
    plane = vtk.vtkPlane()
    plane.SetNormal(*NORMAL)
    clipper = vtk.vtkPolyDataPlaneClipper()
    clipper.SetInputData(data)
    clipper.SetPlane(plane)

    def clip() -> None:
        clipper.Modified()
        clipper.Update()

    return median(clip)


def by_trimesh(mesh: Mesh) -> float:
    """Seconds to slice the triangles by a plane."""
    import trimesh

    made = trimesh.Trimesh(mesh.points, mesh.triangles.corners, process=False)
    return median(lambda: made.slice_plane((0.0, 0.0, 0.0), NORMAL), repeats=5)
