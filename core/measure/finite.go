package measure

import (
	"fmt"
	"math"
	"reflect"
)

// NotFinite says where in a value a figure is not a number or without end; empty where all are finite. Such a figure
// can't be written down as JSON, and nothing that is reckoned from it means anything.
func NotFinite(v any) string { return notFinite(reflect.ValueOf(v), "") }

func notFinite(v reflect.Value, path string) string {
	switch v.Kind() {
	case reflect.Float32, reflect.Float64:
		if f := v.Float(); math.IsNaN(f) || math.IsInf(f, 0) {
			return fmt.Sprintf("%s = %v", path, f)
		}
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			return notFinite(v.Elem(), path)
		}
	case reflect.Struct:
		for i := range v.NumField() {
			if said := notFinite(v.Field(i), path+"."+v.Type().Field(i).Name); said != "" {
				return said
			}
		}
	case reflect.Slice, reflect.Array:
		if k := v.Type().Elem().Kind(); k < reflect.Float32 || k == reflect.String {
			return ""
		}
		for i := range v.Len() {
			if said := notFinite(v.Index(i), fmt.Sprintf("%s[%d]", path, i)); said != "" {
				return said
			}
		}
	case reflect.Map:
		for it := v.MapRange(); it.Next(); {
			if said := notFinite(it.Value(), fmt.Sprintf("%s[%v]", path, it.Key())); said != "" {
				return said
			}
		}
	}
	return ""
}
