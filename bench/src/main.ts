console.log('…');
