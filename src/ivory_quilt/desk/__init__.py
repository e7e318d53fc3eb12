"""The Qt interface.

Qt's bindings look through the source of every module that is loaded after them; what needs no Qt is
loaded first.
"""

import ivory_quilt.core.plan.plan
import ivory_quilt.engine.service
import ivory_quilt.files.recovery
import ivory_quilt.shop.opening  # noqa: F401
