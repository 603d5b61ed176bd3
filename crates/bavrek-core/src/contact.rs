//! How a client is reached: by letters to an e-mail address, or by text messages to a mobile number.

use crate::ranges::RangeError;

/// Where a client can be reached.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Contact {
    /// An e-mail address: letters, with pictures.
    Mail(String),
    /// A mobile number with its country code, as `+` and digits: short messages without pictures.
    Number(String),
}

/// Digits of a whole number with its country code (ITU-T E.164 allows 15; the shortest in use have 7).
const DIGITS: std::ops::RangeInclusive<usize> = 7..=15;

/// Longest text message, characters: three of 153 that phones put together.
pub const LONGEST_TEXT: usize = 459;

impl Contact {
    /// Reads what was typed: an address, or a number as people write it (`+43 660 123 45 67`, `0043-660/1234567`). The error
    /// says what is missing.
    pub fn parse(text: &str) -> Result<Self, RangeError> {
        Self::read(text).map_err(|why| RangeError::new("contact", why))
    }

    fn read(text: &str) -> Result<Self, String> {
        let text = text.trim();
        if text.contains('@') {
            return mail(text).ok_or_else(|| format!("“{text}” is no e-mail address"));
        }
        let between = |c: char| c.is_whitespace() || "-./()".contains(c);
        let plain: String = text.replace("(0)", "").chars().filter(|c| !between(*c)).collect();
        let (abroad, digits) = match (plain.strip_prefix('+'), plain.strip_prefix("00")) {
            (Some(rest), _) | (None, Some(rest)) => (true, rest),
            (None, None) => (false, plain.as_str()),
        };
        if digits.is_empty() || !digits.bytes().all(|b| b.is_ascii_digit()) {
            return Err(format!("“{text}” is neither an e-mail address nor a mobile number"));
        }
        if !abroad || digits.starts_with('0') {
            return Err("a mobile number begins with its country, for example +43 660 1234567".into());
        }
        if !DIGITS.contains(&digits.len()) {
            return Err(format!("a mobile number has {} to {} digits with its country", DIGITS.start(), DIGITS.end()));
        }
        Ok(Self::Number(format!("+{digits}")))
    }

    /// As it is kept: the address, or the number without blanks.
    pub fn text(&self) -> &str {
        match self {
            Self::Mail(text) | Self::Number(text) => text,
        }
    }

    /// Whether what is kept of a client is a number, so that what is sent has to be short and plain.
    pub fn is_number(kept: &str) -> bool {
        let digits = kept.strip_prefix('+').unwrap_or_default();
        DIGITS.contains(&digits.len()) && digits.bytes().all(|b| b.is_ascii_digit())
    }
}

fn mail(text: &str) -> Option<Contact> {
    let (name, host) = text.split_once('@')?;
    let whole = !name.is_empty() && host.contains('.') && !host.starts_with('.') && !host.ends_with('.');
    (whole && !host.contains('@') && !text.contains(char::is_whitespace)).then(|| Contact::Mail(text.to_owned()))
}

/// A name as a text message has room for it.
pub fn in_short(name: &str) -> String {
    /// Characters of it.
    const ROOM: usize = 40;
    if name.chars().count() <= ROOM {
        return name.to_owned();
    }
    let cut: String = name.chars().take(ROOM - 1).collect();
    format!("{}…", cut.trim_end())
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case("ada@home.example", "ada@home.example")]
    #[case(" ada+lifts@home.example ", "ada+lifts@home.example")]
    #[case("+43 660 123 45 67", "+436601234567")]
    #[case("0043-660/1234567", "+436601234567")]
    #[case("+44 (0)7700 900123", "+447700900123")]
    #[case("+1 (555) 010-9999", "+15550109999")]
    fn reads_what_people_write(#[case] text: &str, #[case] kept: &str) {
        let read = Contact::parse(text).unwrap();
        assert_eq!(read.text(), kept);
        assert_eq!(Contact::is_number(kept), matches!(read, Contact::Number(_)));
        assert_eq!(Contact::parse(kept), Ok(read), "what is kept reads as itself");
    }

    #[rstest]
    #[case("ada@home", "no e-mail address")]
    #[case("a da@home.example", "no e-mail address")]
    #[case("@home.example", "no e-mail address")]
    #[case("ada@@home.example", "no e-mail address")]
    #[case("0660 1234567", "begins with its country")]
    #[case("+0660 1234567", "begins with its country")]
    #[case("+43 66", "7 to 15 digits")]
    #[case("+43 660 1234567 1234567", "7 to 15 digits")]
    #[case("call me", "neither")]
    #[case("+", "neither")]
    #[case("+43 660 CALLME", "neither")]
    fn says_what_is_missing(#[case] text: &str, #[case] why: &str) {
        let said = Contact::parse(text).unwrap_err().message;
        assert!(said.contains(why), "{said}");
    }

    /// What came in by a document was never read here.
    #[rstest]
    #[case("")]
    #[case("+")]
    #[case("+someone")]
    #[case("+43 660 1234567")]
    #[case("ada+1234567@home.example")]
    #[case("436601234567")]
    fn what_is_no_whole_number_is_none(#[case] kept: &str) {
        assert!(!Contact::is_number(kept));
    }

    #[test]
    fn a_long_name_is_cut_for_a_text_message() {
        assert_eq!(in_short("Pull day"), "Pull day");
        let long = in_short(&"workout ".repeat(20));
        assert!(long.chars().count() <= 40 && long.ends_with('…'), "{long}");
    }
}
