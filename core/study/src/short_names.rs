//! Short names of an enum.

/// Gives an enum its short names, for forms, files and the database alike.
#[macro_export]
macro_rules! short_names {
    ($type:ident, $what:literal, $expected:literal, $($variant:ident = $name:literal),+) => {
        impl $type {
            /// Every value, in the order a form offers them.
            pub const ALL: &'static [Self] = &[$(Self::$variant),+];
        }

        impl ::std::fmt::Display for $type {
            fn fmt(&self, f: &mut ::std::fmt::Formatter<'_>) -> ::std::fmt::Result {
                f.write_str(match self { $(Self::$variant => $name),+ })
            }
        }

        impl ::std::str::FromStr for $type {
            type Err = ::colour::UnknownName;

            fn from_str(text: &str) -> Result<Self, ::colour::UnknownName> {
                match text.trim().to_lowercase().as_str() {
                    $($name => Ok(Self::$variant),)+
                    _ => Err(::colour::UnknownName { what: $what, found: text.into(), expected: $expected }),
                }
            }
        }
    };
}
