//! Finished text of recipes.

use askama::Template;
use askama_web::WebTemplate;
use colour::ciede2000;
use decide::Recipe;
use study::Price;
use workshop::{
    Aim, KnownShelf, Palette, RecipeAnswer, RecipeAsked, RecipeRequest, ShelfTube, Which,
};

use super::{looks, names};
use crate::frame::Frame;
use crate::pages::names::told_apart;
use crate::words::{counted, number};

/// What can be chosen, and what is.
pub(crate) struct AskForm {
    /// Number, name, maker and code, whether it is the target.
    tubes: Vec<(i64, String, bool)>,
    /// Value, name, whether it is chosen.
    from: Vec<(String, String, bool)>,
    most: Vec<(usize, bool)>,
    with_white: bool,
    swatch: String,
    lab: String,
    /// Value, name, whether it is chosen.
    lights: Vec<(&'static str, &'static str, bool)>,
    why: String,
}

/// Lights that a typed colour may be under.
const LIGHTS: [(&str, &str); 6] = [
    ("", "as the readings"),
    ("D65/10", "D65/10°"),
    ("D65/2", "D65/2°"),
    ("D50/2", "D50/2°"),
    ("D50/10", "D50/10°"),
    ("A/10", "A/10°"),
];

/// The form alone.
#[derive(Template, WebTemplate)]
#[template(path = "decide/ask.html")]
pub(crate) struct AskPage {
    frame: Frame,
    form: AskForm,
}

impl AskForm {
    pub fn new(
        asked: &RecipeAsked,
        shelf: &[ShelfTube],
        palettes: &[Palette],
        why: String,
    ) -> Self {
        let request = asked.request(palettes).ok().flatten();
        let tubes = shelf.iter().map(|tube| {
            let about = [tube.tube.maker.clone(), tube.tube.code()];
            let about: Vec<String> = about.into_iter().filter(|it| !it.is_empty()).collect();
            let name = format!("{} ({})", tube.tube.name, about.join(", "));
            (tube.id.0, name, asked.tube == Some(tube.id.0))
        });
        let chosen = request.as_ref().map(|it| it.from.clone());
        let current = palettes.iter().filter(|it| it.replaced_by.is_none());
        let mut from: Vec<(String, String, bool)> = current
            .map(|it| {
                let is_chosen = chosen == Some(Which::Palette(it.id));
                (it.id.0.to_string(), it.name.clone(), is_chosen)
            })
            .collect();
        let is_shelf = chosen == Some(Which::Shelf);
        from.push(("shelf".into(), "the whole shelf".into(), is_shelf));
        let most = request.as_ref().map_or(3, |it| it.most);
        Self {
            tubes: tubes.collect(),
            from,
            most: (1..=decide::MOST_COLOURS).map(|count| (count, count == most)).collect(),
            with_white: asked.white != "no",
            swatch: asked.swatch.clone(),
            lab: asked.lab.clone(),
            lights: LIGHTS.map(|(value, name)| (value, name, asked.light == value)).to_vec(),
            why,
        }
    }

    pub fn page(self, frame: Frame) -> AskPage {
        AskPage { frame, form: self }
    }
}

/// Recipes for a target.
#[derive(Template, WebTemplate)]
#[template(path = "decide/recipe.html")]
pub(crate) struct RecipePage {
    frame: Frame,
    form: AskForm,
    title: String,
    finding: String,
    evidence: String,
    alike: Vec<RecipeRow>,
    further: Vec<RecipeRow>,
    notes: Vec<String>,
    simulated: bool,
    fields: String,
    /// Tubes whose swatches would make the answer surer; empty where all were read.
    unread: Vec<i64>,
}

struct RecipeRow {
    /// Tubes with their whole parts, and the white's.
    mix: (Vec<(i64, u32)>, u32),
    /// Parts and names, the white last.
    parts: Vec<(String, String)>,
    /// `Predicted ΔE00 0.6; when mixed, within 1.2`.
    sure: String,
    notes: Vec<String>,
    svg: String,
}

impl RecipePage {
    pub fn new(
        frame: Frame,
        form: AskForm,
        request: &RecipeRequest,
        known: &KnownShelf,
        answer: &RecipeAnswer,
    ) -> Result<Self, askama::Error> {
        let names = told_apart(&known.tubes);
        let title = names::aim(&request.aim, known);
        let stand_in = stand_in(known, request);
        let teller = Teller { known, answer, names: &names, title: &title, stand_in };
        let rows: Vec<RecipeRow> =
            answer.recipes.recipes.iter().map(|it| teller.row(it)).collect::<Result<_, _>>()?;
        let mut alike = rows;
        let further = alike.split_off(answer.recipes.alike.min(alike.len()));
        Ok(Self {
            frame,
            finding: teller.finding(),
            evidence: teller.evidence(),
            notes: teller.notes(request),
            simulated: known.is_simulated(),
            fields: request.as_fields(),
            unread: teller.unread(request),
            form,
            alike,
            further,
            title,
        })
    }
}

struct Teller<'a> {
    known: &'a KnownShelf,
    answer: &'a RecipeAnswer,
    names: &'a [String],
    title: &'a str,
    /// What stands for a target that nobody has read.
    stand_in: Option<StandIn>,
}

/// What stands for a tube that nobody has read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum StandIn {
    /// A typical paint of its pigments.
    Typical,
    /// The same, as somebody saw the tube.
    AsSeen,
}

fn stand_in(known: &KnownShelf, request: &RecipeRequest) -> Option<StandIn> {
    let Aim::Tube(tube) = &request.aim else { return None };
    let place = known.place(*tube).filter(|place| !known.is_read(*place))?;
    let seen = !known.tubes[place].tube.look.is_unset();
    Some(if seen { StandIn::AsSeen } else { StandIn::Typical })
}

impl Teller<'_> {
    fn finding(&self) -> String {
        let Some(first) = self.answer.recipes.recipes.first() else {
            return format!("No recipe for {} was found.", self.title);
        };
        let mixture = names::mixture(&first.parts, self.names);
        // How near a typical paint is to the tube itself nobody knows: it neither bounds nor confirms anything.
        match self.stand_in {
            Some(StandIn::Typical) => {
                return format!("As typical paints go, nearest to {}: {mixture}.", self.title);
            }
            Some(StandIn::AsSeen) => {
                return format!("As you saw it, nearest to {}: {mixture}.", self.title);
            }
            None => {}
        }
        if let Some(limit) = &self.answer.recipes.limit {
            return format!(
                "{} cannot be mixed of these: the best is at least ΔE00 {} off.",
                self.title,
                number(limit.at_least, 0)
            );
        }
        match first.delta_e_parts {
            off if off < 1.0 => format!("{}: {mixture}.", self.title),
            off if off < 2.0 => format!("{}, nearly: {mixture}.", self.title),
            _ => format!("Nearest to {}: {mixture}.", self.title),
        }
    }

    fn evidence(&self) -> String {
        if self.stand_in.is_some() {
            return format!(
                "How near it comes to your tube shows when it is mixed, or when the tube is read. Looked for among {}.",
                counted(self.answer.among, "tube", "tubes")
            );
        }
        if let Some(limit) = &self.answer.recipes.limit {
            let words = limit.words().join(", ");
            return format!("Of up to {} colours: {words} at best.", limit.most);
        }
        let Some(first) = self.answer.recipes.recipes.first() else { return String::new() };
        let looks = if self.answer.target.looks.len() > 1 { " alone and with white" } else { "" };
        let lamp = first
            .delta_e_second
            .map_or(String::new(), |it| format!(", by lamplight (A) {}", number(it, 1)));
        let taught = match self.known.taught_by {
            0 => String::new(),
            count => format!(
                "; {} that {} read made their K and S surer",
                counted(count, "mixture", "mixtures"),
                if count == 1 { "was" } else { "were" }
            ),
        };
        format!(
            "Predicted{looks}: ΔE00 {}{lamp}; when it is mixed it comes within {}. Looked for among {}{taught}.",
            number(first.delta_e_parts, 1),
            number(first.claim_of_parts(), 1),
            counted(self.answer.among, "tube", "tubes")
        )
    }

    fn notes(&self, request: &RecipeRequest) -> Vec<String> {
        let mut notes = Vec::new();
        if !self.answer.from_the_tube.is_empty() {
            let like = self.answer.from_the_tube.iter().take(3);
            let like =
                like.map(|(at, off)| format!("{} (ΔE00 {})", self.names[*at], number(*off, 1)));
            notes.push(format!("From the tube: {}.", like.collect::<Vec<_>>().join(", ")));
        }
        if self.answer.cut_short {
            notes.push(
                "Only 24 tubes and three colours at a time were looked at: one request works for two seconds. Choose a \
                 palette, or fewer colours at a time."
                    .into(),
            );
        }
        if request.white && self.known.paints.white.is_none() {
            notes.push("No white was read, so recipes are without it.".into());
        }
        if request.white && self.known.is_white_typical() {
            notes.push("The white was not read: a typical one stands for it. Read it over paper, white and black.".into());
        }
        if let Some(off) = self.answer.target.from_picture {
            notes.push(format!(
                "{} was read from a picture, right within ± {}: a recipe comes no nearer to the paint itself than that.",
                self.title,
                number(off, 1)
            ));
        }
        if let Some(stand_in) = self.stand_in {
            let (paint, also) = match stand_in {
                StandIn::Typical => (
                    "a typical paint of its pigments",
                    " Set its look on the shelf for a typical paint more like yours.",
                ),
                StandIn::AsSeen => ("a typical paint, as you saw it,", ""),
            };
            notes.push(format!(
                "{} was not read: {paint} stands for it. Read its mass tone and two tints, and the recipe is for your \
                 tube.{also}",
                self.title
            ));
        }
        notes
    }

    /// The target and the tubes of the first recipe, as far as they were not read.
    fn unread(&self, request: &RecipeRequest) -> Vec<i64> {
        let of_first = self.answer.recipes.recipes.first().into_iter();
        let of_first = of_first.flat_map(|it| it.shares.tubes.iter().map(|it| it.0));
        let target = match &request.aim {
            Aim::Tube(tube) => self.known.place(*tube),
            Aim::Swatch(..) | Aim::Colour(..) => None,
        };
        let all = target.into_iter().chain(of_first);
        names::unread(all, self.known)
    }

    fn row(&self, recipe: &Recipe) -> Result<RecipeRow, askama::Error> {
        let parts = recipe.parts.tubes.iter();
        let mut parts: Vec<(String, String)> =
            parts.map(|(at, parts)| (parts.to_string(), self.names[*at].clone())).collect();
        if recipe.parts.white > 0 {
            let white = self.known.white.as_ref().map_or("white", |it| it.tube.name.as_str());
            parts.push((recipe.parts.white.to_string(), white.to_owned()));
        }
        let lamp = recipe
            .delta_e_second
            .map_or(String::new(), |it| format!(", by lamplight {}", number(it, 1)));
        let sure = match self.stand_in {
            Some(_) => {
                format!("about ΔE00 {} from the typical paint", number(recipe.delta_e_parts, 0))
            }
            None => format!(
                "ΔE00 {} predicted{lamp}; within {} when mixed",
                number(recipe.delta_e_parts, 1),
                number(recipe.claim_of_parts(), 1)
            ),
        };
        let mut notes = Vec::new();
        if !recipe.parts.is_near {
            notes.push(format!(
                "needs a scale: {} weighed exactly (ΔE00 {})",
                self.percent(recipe),
                number(recipe.delta_e, 1)
            ));
        }
        notes.extend(self.opacity(recipe));
        notes.extend(self.undertone(recipe));
        notes.extend(self.price(recipe));
        let guesses = names::guesses(recipe, self.known, self.names);
        if !guesses.is_empty() {
            notes.push(guesses);
        }
        let tubes = recipe.parts.tubes.iter();
        let tubes = tubes.map(|(at, parts)| (self.known.tubes[*at].id.0, *parts));
        let mix = (tubes.collect(), recipe.parts.white);
        Ok(RecipeRow { mix, parts, sure, notes, svg: self.svg(recipe)? })
    }

    /// `12.4 % Awning Blue, 87.6 % Lantern Yellow`.
    fn percent(&self, recipe: &Recipe) -> String {
        let tubes =
            recipe.shares.tubes.iter().map(|(at, share)| (self.names[*at].as_str(), *share));
        let white = (recipe.shares.white > 0.0).then_some(("white", recipe.shares.white));
        let all = tubes.chain(white);
        all.map(|(name, share)| format!("{} % {name}", number(100.0 * share, 2)))
            .collect::<Vec<_>>()
            .join(", ")
    }

    /// Where the mixture hides more or less than the target.
    fn opacity(&self, recipe: &Recipe) -> Option<String> {
        const APART: f64 = 5.0;
        let (own, wanted) = recipe.contrast_ratio.zip(self.answer.target.contrast_ratio)?;
        let word = match own - wanted {
            gap if gap > APART => "more opaque",
            gap if gap < -APART => "more transparent",
            _ => return None,
        };
        Some(format!(
            "matches the colour, not the opacity: {word} (contrast ratio {} beside {})",
            number(own, 0),
            number(wanted, 0)
        ))
    }

    /// Scraped down, a film shows what the mass tone and the tint hide.
    fn undertone(&self, recipe: &Recipe) -> Option<String> {
        const APART: f64 = 5.0;
        let (own, wanted) = recipe.undertone.zip(self.answer.target.undertone)?;
        let off = ciede2000(own, wanted).value();
        (off > APART).then(|| format!("scraped down it looks otherwise (ΔE00 {})", number(off, 0)))
    }

    /// `10 ml cost 1.40 EUR`, where every tube has a price in one currency.
    fn price(&self, recipe: &Recipe) -> Option<String> {
        let mut cost = 0.0;
        let mut currency: Option<String> = None;
        let white = (recipe.shares.white > 0.0)
            .then_some((self.known.white.as_ref()?, recipe.shares.white));
        let tubes = recipe.shares.tubes.iter().map(|(at, share)| (&self.known.tubes[*at], *share));
        for (tube, share) in tubes.chain(white) {
            let price = Price::typed(&tube.tube.price)?;
            if currency.as_ref().is_some_and(|known| *known != price.currency) {
                return None;
            }
            cost += 10.0 * share * price.amount / tube.tube.volume_ml?;
            currency = Some(price.currency);
        }
        Some(format!("10 ml cost about {} {}", number(cost, 2), currency?).trim_end().to_owned())
    }

    /// The target and the recipe, edge to edge.
    fn svg(&self, recipe: &Recipe) -> Result<String, askama::Error> {
        let told = recipe.colours.iter().map(|lab| Some((*lab, true)));
        let mixture = names::mixture(&recipe.parts, self.names);
        let names = [self.title, mixture.as_str()];
        looks::svg(names, &self.answer.target, told, self.known.paints.conditions)
    }
}
