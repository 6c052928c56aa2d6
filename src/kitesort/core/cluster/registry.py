"""Clustering methods, one file each."""

from kitesort.core.cluster import methods
from kitesort.core.cluster.protocol import ClusteringSpec
from kitesort.core.registry import Registry

CLUSTERINGS: Registry[ClusteringSpec] = Registry(methods, ClusteringSpec)
