//! What the program means by its words: the list in `docs/words.md`.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use workshop::Workshop;

use crate::error::PageError;
use crate::frame::{Frame, Room};

/// The list as it stands in the documents.
const LIST: &str = include_str!("../../../../docs/words.md");

#[derive(Template, WebTemplate)]
#[template(path = "words/page.html")]
pub(crate) struct WordsPage {
    frame: Frame,
    words: Vec<Word>,
}

/// One word.
#[derive(Debug, PartialEq)]
struct Word {
    name: &'static str,
    meaning: &'static str,
    place: &'static str,
}

pub(crate) async fn page(State(app): State<Workshop>) -> Result<WordsPage, PageError> {
    let frame = Frame::load(&app, Room::Elsewhere, None).await?;
    Ok(WordsPage { frame, words: words() })
}

/// The rows of the list's table, without its head.
fn words() -> Vec<Word> {
    let rows = LIST.lines().filter_map(|line| line.strip_prefix("| ")?.strip_suffix(" |"));
    let row = |row: &'static str| match row.split(" | ").collect::<Vec<_>>().as_slice() {
        [name, meaning, place] => Some(Word { name, meaning, place }),
        _ => None,
    };
    rows.skip(1).filter_map(row).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_row_of_the_list_is_a_word_and_they_stand_in_order() {
        let words = words();
        assert_eq!(words.len(), LIST.lines().filter(|line| line.starts_with("| ")).count() - 1);
        let names: Vec<String> = words.iter().map(|word| word.name.to_lowercase()).collect();
        assert!(names.is_sorted(), "{names:?}");
        assert_eq!(words[0].name, "Anchor card");
    }
}
