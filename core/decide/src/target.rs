//! What a recipe is to look like.

use colour::{Conditions, Lab, Reflectance};
use mixing::{Constants, InternalReflectance};
use study::{Averages, Backing, Mixture, Study, SwatchColour, TubeRef};

use crate::paints::{Paints, TINT};

/// How a paint is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum At {
    /// As it is.
    MassTone,
    /// With [`TINT`] parts of white to one of it.
    Tint,
}

impl At {
    /// Parts of white to one part of the paint.
    #[must_use]
    pub fn white(self) -> f64 {
        match self {
            Self::MassTone => 0.0,
            Self::Tint => TINT,
        }
    }
}

/// One look of the target.
#[derive(Debug, Clone, PartialEq)]
pub struct Look {
    /// Alone or with white.
    pub at: At,
    /// Its colour under the palette's light.
    pub lab: Lab,
    /// Under the second light; `None` where only a colour is known.
    pub second: Option<Lab>,
    /// It was predicted by K and S, and neither read nor typed.
    pub is_predicted: bool,
    /// What it reflects, its surface off, for the seed of a search.
    pub(crate) inside: InternalReflectance,
}

/// What a recipe is to look like.
#[derive(Debug, Clone, PartialEq)]
pub struct Target {
    /// One look or two.
    pub looks: Vec<Look>,
    /// How its film hides, where that is known: 100 times its luminance over black by that over white.
    pub contrast_ratio: Option<f64>,
    /// Its colour scraped down over the paper, where its K and S are known.
    pub undertone: Option<Lab>,
    /// Half-width of its 95 % interval, ΔE00, where it was read from a picture.
    pub from_picture: Option<f64>,
}

/// Why there is no target.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum NoTarget {
    /// No surface has this colour under this light.
    OutsideAllLight,
    /// Nothing was read of the tube, and no typical paint is known for it.
    Unread,
    /// K and S have no meaning for the tube.
    NotAPaint,
}

impl std::fmt::Display for NoTarget {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(match self {
            Self::OutsideAllLight => {
                "no surface has this colour in any light: L* runs from 0 to 100, and a* and b* of paints lie within \
                 about ±100, less in the dark and in the light"
            }
            Self::NotAPaint => {
                "this tube does not mix as paint usually does: it may be fluorescent, metallic or pearl, or its parts \
                 or its sheen were not what was written, and so it has no K and S. Its colours hold: aim at one of its squares instead"
            }
            Self::Unread => {
                "nothing was read of this tube yet, and no typical paint is known for it: read its mass tone and two \
                 tints"
            }
        })
    }
}

impl Target {
    /// A colour alone, as a mass tone under the palette's light.
    ///
    /// # Errors
    /// [`NoTarget::OutsideAllLight`] where no surface has it.
    pub fn of_lab(lab: Lab, paints: &Paints) -> Result<Self, NoTarget> {
        let xyz = lab.to_xyz(paints.conditions);
        let spectrum =
            Reflectance::smoothest(xyz, paints.conditions).ok_or(NoTarget::OutsideAllLight)?;
        let inside = InternalReflectance::from_measured(&spectrum, paints.surface);
        Ok(Self {
            looks: vec![Look { at: At::MassTone, lab, second: None, is_predicted: false, inside }],
            contrast_ratio: None,
            undertone: None,
            from_picture: None,
        })
    }

    /// A reflectance that was read, as it is.
    #[must_use]
    pub fn of_reading(read: &Reflectance, paints: &Paints) -> Self {
        let looks = vec![Look::of_reading(At::MassTone, read, paints)];
        Self { looks, contrast_ratio: None, undertone: None, from_picture: None }
    }

    /// A swatch as it was read, by a meter or from a picture.
    ///
    /// # Errors
    /// [`NoTarget::OutsideAllLight`] where no surface has its colour.
    pub fn of_swatch(read: &SwatchColour, paints: &Paints) -> Result<Self, NoTarget> {
        let in_picture = read.in_pictures.as_ref();
        let target = match read.reflectance.filter(|_| in_picture.is_none()) {
            Some(reflectance) => Self::of_reading(&reflectance, paints),
            None => Self::of_lab(read.lab, paints)?,
        };
        Ok(Self { from_picture: in_picture.map(|it| it.uncertainty), ..target })
    }

    /// A paint by its K and S: its mass tone, and its tint where there is a white.
    #[must_use]
    pub fn of_constants(paint: &Constants, paints: &Paints) -> Self {
        let mut looks = vec![Look::of_inside(At::MassTone, paints.inside(paint), paints)];
        looks.extend(paints.white.as_ref().and_then(|white| {
            let tint = Constants::mixed(&[(1.0, paint), (TINT, white)])?;
            Some(Look::of_inside(At::Tint, paints.inside(&tint), paints))
        }));
        let (contrast_ratio, undertone) = (paints.contrast_ratio(paint), paints.undertone(paint));
        Self { looks, contrast_ratio, undertone, from_picture: None }
    }

    /// A tube of a trial: as its mass tone and its tint 1 : 4 were read, as its K and S say where they were not.
    ///
    /// # Errors
    /// [`NoTarget::Unread`] where neither is known.
    pub fn of_tube(
        (study, averages): (&Study, &Averages),
        tube: TubeRef,
        constants: Option<&Constants>,
        paints: &Paints,
    ) -> Result<Self, NoTarget> {
        let predicted = constants.map(|it| Self::of_constants(it, paints));
        let read = |at: At| {
            let mut parts = vec![(tube, 1.0)];
            parts.extend(study.white.map(|white| (white, at.white())));
            let colour = averages.dry(&Mixture::of(&parts), Backing::Paper)?;
            // A colour alone is right under its own light only.
            if colour.reflectance.is_none() && study.conditions != paints.conditions {
                return None;
            }
            Self::of_swatch(colour, paints).ok()
        };
        let mut from_picture: Option<f64> = None;
        let mut look = |at: At| {
            let Some(read) = read(at) else {
                let told = predicted.iter().flat_map(|it| &it.looks);
                return told.into_iter().find(|it| it.at == at).cloned();
            };
            from_picture = from_picture.into_iter().chain(read.from_picture).reduce(f64::max);
            read.looks.into_iter().next().map(|look| Look { at, ..look })
        };
        let mut looks: Vec<Look> = look(At::MassTone).into_iter().collect();
        looks.extend(paints.white.as_ref().and_then(|_| look(At::Tint)));
        let contrast_ratio = predicted.as_ref().and_then(|it| it.contrast_ratio);
        let undertone = predicted.as_ref().and_then(|it| it.undertone);
        match looks.is_empty() {
            true => Err(NoTarget::Unread),
            false => Ok(Self { looks, contrast_ratio, undertone, from_picture }),
        }
    }

    /// Its mass tone.
    #[must_use]
    pub fn mass_tone(&self) -> Option<&Look> {
        self.looks.iter().find(|look| look.at == At::MassTone)
    }
}

impl Look {
    fn of_reading(at: At, read: &Reflectance, paints: &Paints) -> Self {
        let under = |conditions: Conditions| Lab::from_reflectance(read, conditions);
        Self {
            at,
            lab: under(paints.conditions),
            second: Some(under(paints.second_light())),
            is_predicted: false,
            inside: InternalReflectance::from_measured(read, paints.surface),
        }
    }

    fn of_inside(at: At, inside: InternalReflectance, paints: &Paints) -> Self {
        let told = Self::of_reading(at, &inside.to_measured(paints.surface), paints);
        Self { is_predicted: true, ..told }
    }
}
