//! Long lists, a part at a time.

/// Which part of a list a page shows.
pub(crate) struct Paging {
    /// `201 to 400 of 5,000`; empty where everything is shown.
    pub shown: String,
    /// Addresses of the parts before and after; empty where there is none.
    pub before: String,
    pub after: String,
    from: usize,
    to: usize,
}

impl Paging {
    /// Part `page`, from 1, of a list of `all` in parts of `size`; `address` leads to a part.
    pub fn of(all: usize, page: usize, size: usize, address: impl Fn(usize) -> String) -> Self {
        let pages = all.div_ceil(size).max(1);
        let page = page.clamp(1, pages);
        let (from, to) = ((page - 1) * size, (page * size).min(all));
        let shown = format!("{} to {} of {}", grouped(from + 1), grouped(to), grouped(all));
        Self {
            shown: if pages > 1 { shown } else { String::new() },
            before: if page > 1 { address(page - 1) } else { String::new() },
            after: if page < pages { address(page + 1) } else { String::new() },
            from,
            to,
        }
    }

    /// The part of the list.
    pub fn part<'a, T>(&self, list: &'a [T]) -> &'a [T] {
        &list[self.from.min(list.len())..self.to.min(list.len())]
    }
}

/// `100,000`.
fn grouped(number: usize) -> String {
    let digits = number.to_string();
    let mut text = String::new();
    for (at, digit) in digits.chars().enumerate() {
        if at > 0 && (digits.len() - at).is_multiple_of(3) {
            text.push(',');
        }
        text.push(digit);
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_entry_stands_on_one_page() {
        for all in [0, 1, 199, 200, 201, 100_000_usize] {
            let list: Vec<usize> = (0..all).collect();
            let pages = all.div_ceil(200).max(1);
            let at = |page| Paging::of(all, page, 200, |page| page.to_string());
            let seen: Vec<usize> =
                (1..=pages).flat_map(|page| at(page).part(&list).to_vec()).collect();
            assert_eq!(seen, list);
            assert!(at(1).before.is_empty() && at(pages).after.is_empty());
            assert_eq!(at(pages + 7).part(&list), at(pages).part(&list));
        }
        assert_eq!(Paging::of(100_000, 2, 200, |_| String::new()).shown, "201 to 400 of 100,000");
    }
}
