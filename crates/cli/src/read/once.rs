//! Values of JSON in which no object has a key twice, for the later would hide the earlier without a word; their memory
//! is counted.

use std::cell::Cell;
use std::fmt;

use serde::de::{Deserialize, Deserializer, Error, MapAccess, SeqAccess, Visitor};
use serde_json::{Map, Value};

/// A value that was read so.
pub struct Once(pub Value);

thread_local! {
    /// Bytes that values read on this thread may still take; none are left where reading ended for want of them.
    static LEFT: Cell<u64> = const { Cell::new(0) };
}

/// Sets how many bytes the values that are read next on this thread may take.
pub fn allow(bytes: u64) {
    LEFT.set(bytes);
}

/// How many of them are left.
pub fn left() -> u64 {
    LEFT.get()
}

/// What a value takes in a list that grows, and what an entry takes in an object.
const ELEMENT: usize = 2 * size_of::<Value>();
const ENTRY: usize = 2 * (size_of::<Value>() + size_of::<String>() + 3 * size_of::<usize>());

fn take<E: Error>(bytes: usize) -> Result<(), E> {
    let left = LEFT.get().checked_sub(bytes as u64);
    LEFT.set(left.unwrap_or(0));
    left.map(drop).ok_or_else(|| E::custom("it takes more memory than is allowed"))
}

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

    fn visit_str<E: Error>(self, value: &str) -> Result<Value, E> {
        take(value.len())?;
        Ok(value.into())
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Value, A::Error> {
        let mut values = Vec::new();
        while let Some(Once(value)) = list.next_element()? {
            take(ELEMENT)?;
            values.push(value);
        }
        Ok(Value::Array(values))
    }

    fn visit_map<A: MapAccess<'de>>(self, mut entries: A) -> Result<Value, A::Error> {
        let mut object = Map::new();
        while let Some(key) = entries.next_key::<String>()? {
            take(ENTRY + key.len())?;
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

    fn read(text: &str, room: u64) -> serde_json::Result<Value> {
        allow(room);
        serde_json::from_str(text).map(|Once(value)| value)
    }

    #[test]
    fn what_takes_more_than_there_is_room_for_is_refused() {
        for text in ["[[],[],[],[]]", "{\"a\": 1, \"b\": 2}", "\"a long text in a small room\""] {
            assert!(read(text, 20).is_err_and(|error| error.to_string().contains("memory")), "{text}");
            assert!(read(text, 1_000).is_ok(), "{text}");
        }
    }

    #[test]
    fn values_are_as_the_library_reads_them_and_keys_stand_once() {
        for text in [
            "null",
            "[1, -2, 2.5e3, true, \"a\\n\", {}]",
            "{\"b\": {\"a\": [null]}, \"a\": 18446744073709551615}",
        ] {
            let own = read(text, 10_000).unwrap_or_else(|error| panic!("{text}: {error}"));
            assert_eq!(Some(own), serde_json::from_str(text).ok(), "{text}");
        }
        let twice = read("[{\"a\": 1,\n \"b\": 1, \"a\": 2}]", 10_000).err();
        assert!(
            twice.is_some_and(|error| error
                .to_string()
                .contains("\"a\" stands twice in one record at line 2"))
        );
    }
}
