//! A served workshop.

use std::error::Error;
use std::net::SocketAddr;
use std::path::PathBuf;

use instruments::simulated::{MixingTable, SimulatedMeter};
use store::Store;
use tempfile::TempDir;
use tokio::net::TcpListener;
use tokio::task::JoinHandle;
use workshop::Workshop;

/// An empty workshop behind a free port; gone when it is dropped.
#[derive(Debug)]
pub struct ServedWorkshop {
    address: SocketAddr,
    folder: TempDir,
    server: JoinHandle<()>,
}

impl ServedWorkshop {
    /// Starts a server over an empty database.
    ///
    /// # Errors
    /// When no port or no folder is to be had.
    pub async fn open() -> Result<Self, Box<dyn Error>> {
        Self::with(|app| app.with_meter(SimulatedMeter::new(1, MixingTable::default()))).await
    }

    /// The same without any instrument, as most users have it.
    ///
    /// # Errors
    /// When no port or no folder is to be had.
    pub async fn without_meter() -> Result<Self, Box<dyn Error>> {
        Self::with(|app| app).await
    }

    async fn with(devices: impl FnOnce(Workshop) -> Workshop) -> Result<Self, Box<dyn Error>> {
        let folder = tempfile::tempdir()?;
        let store = Store::open(&folder.path().join("workshop.db")).await?;
        let app = devices(Workshop::new(store));
        let listener = TcpListener::bind("127.0.0.1:0").await?;
        let address = listener.local_addr()?;
        let server = tokio::spawn(async move {
            if let Err(error) = web::serve(vec![listener], app, None, std::future::pending()).await
            {
                eprintln!("the server stopped: {error}");
            }
        });
        Ok(Self { address, folder, server })
    }

    /// The full address of a page.
    #[must_use]
    pub fn url(&self, path: &str) -> String {
        format!("http://{}{path}", self.address)
    }

    /// Keeps a text or a picture in a file that the browser may upload.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn file(&self, name: &str, text: impl AsRef<[u8]>) -> Result<PathBuf, Box<dyn Error>> {
        let path = self.folder.path().join(name);
        std::fs::write(&path, text)?;
        Ok(path)
    }
}

impl Drop for ServedWorkshop {
    fn drop(&mut self) {
        self.server.abort();
    }
}
