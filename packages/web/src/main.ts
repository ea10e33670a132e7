document.title = 'Yoke';
