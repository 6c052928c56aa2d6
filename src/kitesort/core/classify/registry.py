"""All classifiers by id."""

from kitesort.core.classify import methods
from kitesort.core.classify.protocol import ClassifierSpec
from kitesort.core.registry import Registry

CLASSIFIERS: Registry[ClassifierSpec] = Registry(methods, ClassifierSpec)
