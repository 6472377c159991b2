//! Values of JSON in which no object has a key twice: the later would hide the earlier without a word.

use std::fmt;

use serde::de::{Deserialize, Deserializer, Error, MapAccess, SeqAccess, Visitor};
use serde_json::{Map, Value};

/// A value that was read so.
pub struct Once(pub Value);

impl<'de> Deserialize<'de> for Once {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        deserializer.deserialize_any(Reader).map(Self)
    }
}

struct Reader;

impl<'de> Visitor<'de> for Reader {
    type Value = Value;

    fn expecting(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        formatter.write_str("a value")
    }

    fn visit_unit<E>(self) -> Result<Value, E> {
        Ok(Value::Null)
    }

    fn visit_bool<E>(self, value: bool) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_i64<E>(self, value: i64) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_u64<E>(self, value: u64) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_f64<E>(self, value: f64) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_str<E>(self, value: &str) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_string<E>(self, value: String) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Value, A::Error> {
        let mut values = Vec::new();
        while let Some(Once(value)) = list.next_element()? {
            values.push(value);
        }
        Ok(Value::Array(values))
    }

    fn visit_map<A: MapAccess<'de>>(self, mut entries: A) -> Result<Value, A::Error> {
        let mut object = Map::new();
        while let Some(key) = entries.next_key::<String>()? {
            let Once(value) = entries.next_value()?;
            if object.contains_key(&key) {
                return Err(A::Error::custom(format!("the key {key:?} stands twice in one record")));
            }
            object.insert(key, value);
        }
        Ok(Value::Object(object))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn values_are_as_the_library_reads_them_and_keys_stand_once() {
        for text in [
            "null",
            "[1, -2, 2.5e3, true, \"a\\n\", {}]",
            "{\"b\": {\"a\": [null]}, \"a\": 18446744073709551615}",
        ] {
            let own: Once = serde_json::from_str(text).unwrap_or_else(|error| panic!("{text}: {error}"));
            assert_eq!(Some(own.0), serde_json::from_str(text).ok(), "{text}");
        }
        let twice = serde_json::from_str::<Once>("[{\"a\": 1,\n \"b\": 1, \"a\": 2}]").err();
        assert!(
            twice.is_some_and(|error| error
                .to_string()
                .contains("\"a\" stands twice in one record at line 2"))
        );
    }
}
